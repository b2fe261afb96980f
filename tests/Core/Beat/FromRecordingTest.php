<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\FromRecording;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Theory\Meter;
use Pestle\Tests\Core\Render\RandomBeats;
use PHPUnit\Framework\TestCase;

final class FromRecordingTest extends TestCase
{
    public function testHitsFindThePadsOfTheirRolesAndTheirStrengths(): void
    {
        $made = $this->made(120.0);
        // A second is two quarters. A kick, a rim that goes to percussion, a tom that finds its like nowhere else, one far before the start.
        $hits = $made->hits([[0, 'kick', 0.9, 1.0], [22050, 'snare', 0.9, 0.25], [44100, 'rim', 0.5, 0.5], [66150, 'tom', 0.5, 0.5], [-22050, 'kick', 0.9, 1.0], [-400, 'kick', 0.9, 0.0]], 44100);
        self::assertSame([['a0', 0, 127], ['a1', 960, 55], ['a2', 1920, 84], ['a2', 2880, 84], ['a0', 0, 1]], array_map(static fn (Hit $h): array => [$h->pad, $h->tick, $h->velocity], $hits));
    }

    public function testItIsAsManyBarsAsItLastsInTheBeatsOwnMeter(): void
    {
        $made = $this->made(120.0);
        self::assertSame([1, 1, 2, 2, 64], array_map($made->bars(...), [0.1, 2.05, 2.2, 4.0, 1000.0]));
        self::assertSame(3, $this->made(120.0, '3/4')->bars(4.5));
        $change = $made->change('s1', str_repeat('Long name ', 12), 4.0, ['hits' => [[0, 'a0', 100]]]);
        $beat = Changes::apply(Changes::read($change), self::beat('4/4'));
        $pattern = $beat->pattern($beat->section('s1')->patterns['part-1'] ?? '');
        self::assertSame([7680, 1, true, true], [$pattern->ticks, \count($pattern->hits), str_ends_with($pattern->name, ' on pads'), mb_strlen($pattern->name) <= 80]);
    }

    private function made(float $bpm, string $meter = '4/4'): FromRecording
    {
        $beat = self::beat($meter);

        return new FromRecording($beat, $beat->part('part-1'), static fn (float $seconds): float => $seconds * $bpm / 60.0);
    }

    private static function beat(string $meter): Beat
    {
        $fill = static fn (string $pad, string $role): array => ['type' => 'fill-pad', 'pad' => $pad, 'sample' => str_repeat('a', 64), 'name' => $role, 'role' => $role, 'start' => 0, 'end' => 900];

        return RandomBeats::changed(Beat::empty('Heard'), [['type' => 'set-meter', 'meter' => Meter::named($meter)->name()], $fill('a0', 'kick'), $fill('a1', 'snare'), $fill('a2', 'percussion')]);
    }
}
