<?php

namespace Pestle\Tests\Core\Pattern;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Role;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\ReadyMade;
use Pestle\Core\Theory\Ticks;
use Pestle\Tests\Core\Render\RandomBeats;
use PHPUnit\Framework\TestCase;

/** Drum patterns that come with Pestle, on kits of all sorts. */
final class ReadyMadeTest extends TestCase
{
    public function testEveryOneIsWholeBarsAndPlaysOnAnyKitWithTheUsualSounds(): void
    {
        $full = self::kit(['kick', 'snare', 'clap', 'hat', 'open-hat', 'tom', 'cymbal', 'percussion']);
        $small = self::kit(['kick', 'snare', 'hat']);
        self::assertGreaterThanOrEqual(12, \count(ReadyMade::all()));
        $sounds = [];
        foreach (ReadyMade::all() as $id => $ready) {
            self::assertSame($id, $ready->id);
            self::assertSame(2 * Ticks::PER_BAR, $ready->ticks(), $ready->name);
            $laid = self::lay($full, (string) $id);
            $pattern = $laid->pattern('p9');
            self::assertEquals($laid, BeatCodec::decode(BeatCodec::encode($laid)));
            self::assertSame('p9', $laid->section('s1')->patterns['part-1']);
            $ticks = array_map(static fn (Hit $h): int => $h->tick, $pattern->hits);
            \assert([] !== $ticks);
            self::assertContains(0, $ticks, $ready->name.' begins on one');
            self::assertGreaterThan(Ticks::PER_BAR, max($ticks));
            self::assertGreaterThan(2, \count(array_unique(array_column($pattern->hits, 'velocity'))), 'some are louder than others');
            $sounds[] = implode(' ', array_map(static fn (Hit $h): string => $h->key(), $pattern->hits));
            // With three sounds it is still there, without two hits of one sound at a time.
            self::assertGreaterThan(6, \count(self::lay($small, (string) $id)->pattern('p9')->hits));
        }
        self::assertCount(\count($sounds), array_unique($sounds), 'no two are the same');
    }

    public function testAKitWithoutDrumsIsTold(): void
    {
        $this->expectException(InvalidChange::class);
        $this->expectExceptionMessage('Kit has no sounds for a drum pattern');
        self::lay(self::kit(['voice', 'tonal']), 'boiler');
    }

    private static function lay(Beat $beat, string $ready): Beat
    {
        return Changes::read(['type' => 'lay-ready-made', 'ready' => $ready, 'part' => 'part-1', 'section' => 's1', 'id' => 'p9'])->apply($beat);
    }

    /** @param list<string> $roles */
    private static function kit(array $roles): Beat
    {
        return RandomBeats::changed(Beat::empty('Ready'), array_map(static fn (int $i): array => ['type' => 'fill-pad', 'pad' => 'a'.$i, 'sample' => str_repeat('a', 64), 'name' => Role::from($roles[$i])->label(), 'role' => $roles[$i], 'start' => 0, 'end' => 900], array_keys($roles)));
    }
}
