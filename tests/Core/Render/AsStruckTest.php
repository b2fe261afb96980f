<?php

namespace Pestle\Tests\Core\Render;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Kit\LfoTarget;
use Pestle\Core\Render\Drift;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\Renderer;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;
use Pestle\Core\Render\Voice;
use Pestle\Core\Signal\Noise;
use Pestle\Core\Song\Entry;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

/** What of pads and instruments moves: found at each strike, and going on from there. */
final class AsStruckTest extends TestCase
{
    private const BAR = 3840;
    private static string $folder;
    private static string $noise;

    public static function setUpBeforeClass(): void
    {
        self::$folder = Sounds::folder();
        $noise = (new Noise(5))->block(3 * 44100);
        self::$noise = Sounds::put(self::$folder, new StereoBlock($noise, $noise));
    }

    /** Each hit is as loud and as high as the curve is where it falls; one that is felt early belongs to its step. */
    public function testEachStrikeFindsWhatTheCurveSays(): void
    {
        $beat = self::beat([['type' => 'set-movement', 'path' => 'kit/a0/levelDb', 'points' => [[0, -24, 0], [self::BAR, 0, 0]]], ['type' => 'set-movement', 'path' => 'kit/a0/tuneCents', 'points' => [[0, 0, 1], [1920, 700, 0]]]]);
        $voices = self::struck($beat);
        self::assertEqualsWithDelta([-24.0, -18.0, -12.0, -6.0], array_map(static fn (Voice $v): float => 20.0 * log10($v->gainLeft / (100 / 127) ** 1.5), $voices), 1e-6);
        self::assertSame([0, 0, 700, 700], array_map(static fn (Voice $v): int => $v->tuneCents, $voices));
        $early = self::struck(RandomBeats::changed($beat, [['type' => 'set-feel', 'patterns' => ['p1'], 'shiftTicks' => -30]]));
        self::assertSame([0, 0, 700, 700], array_map(static fn (Voice $v): int => $v->tuneCents, $early));
        // The pattern's own is heard in place of the section's, that of the song's.
        $inner = RandomBeats::changed($beat, [['type' => 'set-movement', 'path' => 'kit/a0/tuneCents', 'scope' => 'section', 'of' => 's1', 'points' => [[0, -200]]], ['type' => 'set-movement', 'path' => 'kit/a0/tuneCents', 'scope' => 'pattern', 'of' => 'p1', 'points' => [[0, 300, 1], [2880, 400, 0]]]]);
        self::assertSame([300, 300, 300, 400], array_map(static fn (Voice $v): int => $v->tuneCents, self::struck($inner)));
        $off = RandomBeats::changed($inner, [['type' => 'set-movement', 'path' => 'kit/a0/tuneCents', 'scope' => 'pattern', 'of' => 'p1', 'on' => 0]]);
        self::assertSame([-200, -200, -200, -200], array_map(static fn (Voice $v): int => $v->tuneCents, self::struck($off)));
    }

    /** What stands is to the bit what is set so. */
    public function testACurveThatStandsIsASetting(): void
    {
        foreach (['kit/a0/levelDb' => -7.0, 'kit/a0/filter/cutoffHz' => 900.0, 'kit/a0/pan' => 0.5, 'kit/a0/amp/decayMs' => 80.0, 'kit/a0/layers/0/delayMs' => 12.0, 'part/part-1/levelDb' => -3.0] as $path => $value) {
            $set = self::beat([['type' => 'set', 'kit/a0/filter/shape' => 'low-pass', 'kit/a0/amp/sustain' => 0.2, $path => $value]]);
            $moves = self::beat([['type' => 'set', 'kit/a0/filter/shape' => 'low-pass', 'kit/a0/amp/sustain' => 0.2], ['type' => 'set-movement', 'path' => $path, 'points' => [[0, $value]]]]);
            self::assertSame(self::sound($set), self::sound($moves), $path);
            self::assertNotSame(self::sound($set), self::sound(self::beat([['type' => 'set', 'kit/a0/filter/shape' => 'low-pass', 'kit/a0/amp/sustain' => 0.2]])), $path);
        }
    }

    /** One long sound opens, rises and swells with its curves, and does not click where they jump. */
    public function testALongSoundGoesOnMoving(): void
    {
        $one = [['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [], 'take' => [[960, 'a0'], [1920, 'a0'], [2880, 'a0']]]];
        $swell = self::unpacked(self::sound(self::beat([...$one, ['type' => 'set-movement', 'path' => 'kit/a0/levelDb', 'points' => [[0, -30, 0], [self::BAR, -6, 0]]]])));
        $still = self::unpacked(self::sound(self::beat([...$one, ['type' => 'set', 'kit/a0/levelDb' => -6]])));
        foreach ([4000, 30_000, 60_000, 80_000] as $frame) {
            $ratio = 20.0 * log10(self::rms($swell, $frame) / self::rms($still, $frame));
            self::assertEqualsWithDelta(-24.0 + 24.0 * $frame / 88_200, $ratio, 0.05);
        }
        $opens = self::unpacked(self::sound(self::beat([...$one, ['type' => 'set', 'kit/a0/filter/shape' => 'low-pass'], ['type' => 'set-movement', 'path' => 'kit/a0/filter/cutoffHz', 'points' => [[0, 300, 0], [self::BAR, 9000, 0]]]])));
        self::assertGreaterThan(8.0 * self::rough($opens, 2000), self::rough($opens, 80_000));
        // At each moment it sounds as one that is set so.
        $set = self::unpacked(self::sound(self::beat([...$one, ['type' => 'set', 'kit/a0/filter/shape' => 'low-pass', 'kit/a0/filter/cutoffHz' => 300 + 8700 / 2]])));
        self::assertEqualsWithDelta(1.0, self::rough($opens, 44_100) / self::rough($set, 44_100), 0.05);
        $drift = Drift::along(LfoTarget::Level, [[0, -20.0, 4410, -20.0], [4410, 0.0, 8820, -10.0]]) ?? self::fail('It moves.');
        self::assertEqualsWithDelta([0.0, 900.0], [$drift->values(275, 1)[0], $drift->values(290, 1)[0]], 40.0);
        $values = $drift->values(270, 60);
        $steps = array_map(static fn (float $a, float $b): float => abs($b - $a), \array_slice($values, 0, -1), \array_slice($values, 1));
        self::assertLessThan(250.0, max([0.0, ...$steps]), 'a jump of 20 dB takes 5 ms');
        self::assertNull(Drift::along(LfoTarget::Pan, [[0, 0.5, 100, 0.5], [100, 0.5, 200, 0.5]]));
    }

    /** What moves belongs to its pad: it goes where the pad goes, and with it. */
    public function testItGoesWithItsPad(): void
    {
        $beat = self::beat([['type' => 'set-movement', 'path' => 'kit/a0/levelDb', 'points' => [[0, -3]]], ['type' => 'set-movement', 'path' => 'tempo', 'points' => [[0, 99]]]]);
        $paths = static fn (Beat $b): array => array_values(array_map(static fn ($m): string => $m->path, $b->movements->all));
        self::assertSame(['kit/a5/levelDb', 'tempo'], $paths(RandomBeats::changed($beat, [['type' => 'swap-pads', 'pad' => 'a0', 'with' => 'a5']])));
        self::assertSame(['tempo'], $paths(RandomBeats::changed($beat, [['type' => 'clear-pad', 'pad' => 'a0']])));
        foreach ([['kit/a0/choke', 'Choke group cannot move: it is settled before the sound begins.'], ['kit/a0/levelDb', 'must lie between -60 dB and 12 dB']] as [$path, $words]) {
            try {
                RandomBeats::changed($beat, [['type' => 'set-movement', 'path' => $path, 'points' => [[0, 99]]]]);
                self::fail($words);
            } catch (InvalidChange $e) {
                self::assertStringContainsString($words, $e->getMessage());
            }
        }
    }

    /** @return list<Voice> of the pad over one bar */
    private static function struck(Beat $beat): array
    {
        $voices = [];
        foreach (Plan::song($beat, Passage::song($beat), self::sounds())->segments() as $segment) {
            foreach ($segment->voices['a0'] ?? [] as [$voice]) {
                $voices[$voice->start] = $voice;
            }
        }
        ksort($voices);

        return array_values($voices);
    }

    private static function sound(Beat $beat): string
    {
        $out = '';
        foreach ((new Renderer(self::sounds(), SegmentCache::none()))->stream(Plan::song($beat, [Entry::once('s1')], self::sounds())) as $moment) {
            $out .= pack('e*', ...$moment->mix->block()->left);
        }

        return $out;
    }

    /** @return list<float> */
    private static function unpacked(string $sound): array
    {
        /** @var array<int, float> $values */
        $values = unpack('e*', $sound);

        return array_values($values);
    }

    /** @param list<float> $sound */
    private static function rms(array $sound, int $at): float
    {
        return sqrt(array_sum(array_map(static fn (float $x): float => $x * $x, \array_slice($sound, $at - 400, 800))) / 800);
    }

    /**
     * How bright it is: its differences against itself.
     *
     * @param list<float> $sound
     */
    private static function rough(array $sound, int $at): float
    {
        $part = \array_slice($sound, $at - 1000, 2000);

        return sqrt(array_sum(array_map(static fn (float $a, float $b): float => ($a - $b) ** 2, \array_slice($part, 1), \array_slice($part, 0, -1))));
    }

    private static function sounds(): PadSounds
    {
        return new PadSounds(new SampleLibrary(self::$folder), Beat::SAMPLE_RATE);
    }

    /**
     * A bar of four hits at 120 BPM, without inserts.
     *
     * @param list<array<string, mixed>> $changes
     */
    private static function beat(array $changes): Beat
    {
        $bar = RandomBeats::dry(RandomBeats::changed(Beat::empty('Struck'), [
            ['type' => 'set-tempo', 'bpm' => 120], ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 1],
            ['type' => 'fill-pad', 'pad' => 'a0', 'sample' => self::$noise, 'name' => 'Noise', 'role' => 'percussion', 'start' => 0, 'end' => 3 * 44100],
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => array_map(static fn (int $k): array => [960 * $k, 'a0', 100], range(0, 3))],
        ]));

        return RandomBeats::changed($bar, $changes);
    }
}
