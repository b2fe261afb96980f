<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Strikes;
use Pestle\Tests\Core\Render\RandomBeats;
use PHPUnit\Framework\TestCase;

final class StrikesTest extends TestCase
{
    /** One sound does for all strengths, until something on its way makes another of it. */
    public function testStrengthsHaveSoundsOfTheirOwnWhereTheirWayIsNotLinear(): void
    {
        $plain = self::beat([]);
        $strengths = static fn (Beat $beat): array => (new Strikes($beat))->onPad($beat->pad('a0'));
        self::assertSame([127], $strengths($plain));
        $graded = [20, 40, 58, 76, 92, 108, 127];
        foreach ([
            'a compressor of its own' => [['type' => 'set', 'mixer/c1/inserts/i2/on' => 1]],
            'one of its group' => [['type' => 'add-node', 'kind' => 'group', 'id' => 'g1', 'name' => 'Both', 'from' => 'c1'], ['type' => 'add-insert', 'node' => 'g1', 'kind' => 'saturation']],
            'a limiter that has to do' => [['type' => 'set', 'mixer/c1/gainDb' => 6]],
            'a tone by strength' => [['type' => 'set', 'under' => 'kit/a0', 'filter/shape' => 'low-pass', 'filter/cutoffHz' => 900, 'filter/strengthCents' => 1200]],
        ] as $what => $changes) {
            self::assertSame($graded, $strengths(self::beat($changes)), $what);
        }
        // What another line does is nothing to it, nor a filter that is the same at all strengths.
        self::assertSame([127], $strengths(self::beat([['type' => 'set', 'mixer/c2/inserts/i2/on' => 1]])));
        self::assertSame([127], $strengths(self::beat([['type' => 'set', 'under' => 'kit/a0', 'filter/shape' => 'low-pass', 'filter/cutoffHz' => 900]])));
        // Layers are fetched where they answer, and so is what lies between.
        $layered = self::beat([['type' => 'set-pad', 'pad' => 'a0', 'answer' => 'strength']]);
        self::assertSame([127], $strengths($layered));
        self::assertSame([], (new Strikes($plain))->onKeys($plain->part('part-1')));
    }

    public function testItsPrintIsAnotherWhereItSoundsDifferent(): void
    {
        $print = static fn (Beat $beat): string => (new Strikes($beat))->printOfPad($beat->pad('a0'));
        $plain = $print(self::beat([]));
        self::assertSame($plain, $print(self::beat([['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 90]]], ['type' => 'set', 'mixer/c2/gainDb' => -9], ['type' => 'set-tempo', 'bpm' => 71]])));
        foreach ([['mixer/c1/gainDb' => -3], ['kit/a0/tuneCents' => 100], ['mixer/master/gainDb' => -3]] as $set) {
            self::assertNotSame($plain, $print(self::beat([['type' => 'set', ...$set]])), (string) json_encode($set));
        }
        // The tempo tells where an LFO goes by it.
        $waves = ['type' => 'set', 'under' => 'kit/a0', 'lfo1/target' => 'pan', 'lfo1/depth' => 40, 'lfo1/ticks' => 960];
        self::assertNotSame($print(self::beat([$waves])), $print(self::beat([$waves, ['type' => 'set-tempo', 'bpm' => 71]])));
    }

    /** @param list<array<string, mixed>> $changes */
    private static function beat(array $changes): Beat
    {
        $fill = static fn (string $pad): array => ['type' => 'fill-pad', 'pad' => $pad, 'sample' => str_repeat('a', 64), 'name' => 'Knock', 'role' => 'kick', 'start' => 0, 'end' => 900];

        return RandomBeats::changed(Beat::empty('Struck'), [$fill('a0'), $fill('a1'), ...$changes]);
    }
}
