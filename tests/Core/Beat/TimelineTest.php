<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Exchange\Midi\MidiFile;
use Pestle\Core\Exchange\Midi\MidiWriter;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\Renderer;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;
use Pestle\Core\Theory\Curve;
use Pestle\Core\Theory\Tempo;
use Pestle\Core\Theory\TempoMap;
use Pestle\Tests\Core\Render\RandomBeats;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;

/** When things fall where the tempo moves. */
final class TimelineTest extends TestCase
{
    private const BAR = 3840;

    public function testARampTakesAsLongAsItsIntegral(): void
    {
        $map = TempoMap::along(Tempo::bpm(60), [[0.0, 60.0, 3840.0, 120.0], [3840.0, 120.0, 7680.0, 120.0], [7680.0, 90.0, 8640.0, 90.0]]);
        // Four beats from 60 to 120: four seconds times ln 2.
        self::assertEqualsWithDelta(4.0 * log(2.0), $map->seconds(3840.0), 1e-12);
        self::assertEqualsWithDelta(4.0 * log(2.0) + 2.0, $map->seconds(7680.0), 1e-12);
        self::assertEqualsWithDelta([60.0, 90.0, 120.0, 120.0, 90.0, 90.0], array_map($map->bpm(...), [0.0, 1920.0, 3840.0, 7679.0, 7680.0, 99999.0]), 1e-9);
        self::assertEqualsWithDelta(-0.5, $map->seconds(-480.0), 1e-12, 'before its start it goes as it begins');
        self::assertSame([60.0, false, true], [$map->slowest()->bpm, $map->isSteady(), TempoMap::along(Tempo::bpm(93), [[0.0, 93.0, 500.0, 93.0], [500.0, 93.0, 900.0, 93.0]])->isSteady()]);
        self::assertSame([true, false, false], [$map->stands(4000.0, 7680.0), $map->stands(3000.0, 3500.0), $map->stands(7000.0, 8000.0)]);
    }

    /** There and back, in parts as in one, and by the places that scripts get; what was drawn is what is kept to. */
    public function testTicksAndSecondsAreOneLine(): void
    {
        for ($seed = 1; $seed <= 30; ++$seed) {
            $chance = new Randomizer(new Xoshiro256StarStar($seed));
            $points = array_map(static fn (int $k): array => [2000.0 * $k + $chance->getInt(0, 1900), (float) $chance->getInt(30, 300), [0.0, 1.0, -1.0, 0.6, -0.4][$chance->getInt(0, 4)]], range(0, 5));
            $curve = new Curve($points);
            $map = TempoMap::along(Tempo::bpm(100), $curve->ways(0.0, 16_000.0));
            $sum = 0.0;
            for ($tick = 0; $tick < 14_000; ++$tick) {
                $sum += 60.0 / 960.0 / $curve->at($tick + 0.5);
            }
            self::assertEqualsWithDelta($sum, $map->seconds(14_000.0), 0.004 * $sum, "seed $seed");
            $from = $chance->getInt(0, 120_000) / 10.0;
            $rest = $map->from($from);
            $places = $map->places(16_000.0);
            foreach ([0.0, 77.7, 3000.0, 9999.9, 15_000.0] as $tick) {
                self::assertEqualsWithDelta($tick, $map->exactTicks($map->seconds($tick)), 1e-6);
                self::assertEqualsWithDelta($map->seconds($from + $tick) - $map->seconds($from), $rest->seconds($tick), 1e-9);
                self::assertEqualsWithDelta($map->bpm($from + $tick), $rest->bpm($tick), 1e-9);
                $next = array_key_last(array_filter($places, static fn (array $p): bool => $p[0] <= $tick)) ?? 0;
                [$a, $b] = [$places[$next], $places[$next + 1]];
                self::assertEqualsWithDelta($map->seconds($tick), $a[1] + ($tick - $a[0]) * ($b[1] - $a[1]) / ($b[0] - $a[0]), 1.2e-5);
            }
        }
    }

    /** Hits fall on the frame that the tempo drawn over the song gives, in every coming of a section; a section's own tempo is heard in place of it. */
    public function testHitsFallByTheTempoThatMoves(): void
    {
        $beat = self::beat([
            ['type' => 'add-section', 'id' => 's2', 'name' => 'Slow', 'copyOf' => 's1'], ['type' => 'set-song', 'sections' => ['s1', 's2', 's1']], ['type' => 'set', 'song/e1/repeats' => 2],
            ['type' => 'set-movement', 'path' => 'tempo', 'points' => [[0, 120, 0], [2 * self::BAR, 60, 1], [3 * self::BAR, 150, 0]]],
            ['type' => 'set-movement', 'path' => 'tempo', 'scope' => 'section', 'of' => 's2', 'points' => [[0, 80, 0]]],
        ]);
        $passes = [4.0 * 2.0 * log(2.0) - self::half(), self::half(), 3.0, 1.6];
        $starts = [0.0, $passes[0], $passes[0] + $passes[1], $passes[0] + $passes[1] + 3.0];
        $sounds = self::sounds();
        $found = [];
        foreach (Plan::song($beat, Passage::song($beat), $sounds)->segments() as $segment) {
            foreach ($segment->voices['a0'] ?? [] as [$voice, $start]) {
                $found[$segment->start + $start] = true;
            }
        }
        $expected = array_map(static fn (float $s): int => (int) round($s * 44100), $starts);
        self::assertSame($expected, array_values(array_intersect(array_keys($found), $expected)));
        self::assertCount(16, $found, 'four hits a pass, and no other');
        self::assertSame((int) round(array_sum($passes) * 44100), Plan::song($beat, Passage::song($beat), $sounds)->frames);
        // A section by itself goes as it does where it comes first, and a range as it does there.
        self::assertSame([(int) round($passes[0] * 44100), 3 * 44100, (int) round(($passes[1] + 3.0) * 44100)], array_map(static fn (string $what): int => Plan::loop($beat, $what, $sounds)->frames, ['s1', 's2', self::BAR.'-'.(3 * self::BAR)]));
    }

    /** Seconds of the second half of two bars that slow down from 120 to 60 BPM. */
    private static function half(): float
    {
        return 8.0 * log(90.0 / 60.0);
    }

    /** Beat by beat a recording that keeps to the tempo lies where the grid does, faster and slower, turned round and cut in two. */
    public function testARecordingKeepsToATempoThatMoves(): void
    {
        $pulse = array_fill(0, 8 * 44100, 0.0);
        foreach (range(0, 7) as $beatOf) {
            for ($i = 0; $i < 600; ++$i) {
                $pulse[$beatOf * 44100 + $i] = 0.8 * exp(-$i / 120) * (0 === $i % 2 ? 1 : -1);
            }
        }
        $moves = [['type' => 'set-movement', 'path' => 'tempo', 'points' => [[0, 80, 0], [2 * self::BAR, 50, 0]]], ['type' => 'set-song', 'sections' => ['s1', 's1']]];
        $clip = ['type' => 'add-clip', 'id' => 'k1', 'track' => 'track-1', 'name' => 'Pulse', 'sample' => Sounds::put(self::folder(), new StereoBlock(array_values($pulse), array_values($pulse))), 'rate' => 44100, 'at' => 0, 'from' => 0, 'to' => 8 * 44100, 'bpm' => 60, 'material' => 'hits'];
        $whole = self::beat([...$moves, $clip, ['type' => 'set', 'kit/a0/levelDb' => -60]]);
        $split = RandomBeats::changed($whole, [['type' => 'split-clip', 'clip' => 'k1', 'at' => 4 * 960, 'id' => 'k2']]);
        $time = Timeline::song($whole);
        self::assertEqualsWithDelta(8.0 * 960.0, $whole->clip('k1')->end($time), 1e-6);
        self::assertEqualsWithDelta([3840.0, 7680.0], [$split->clip('k1')->end($time), $split->clip('k2')->end($time)], 0.05);
        foreach ([$whole, $split] as $beat) {
            $left = self::heard($beat);
            foreach (range(1, 7) as $beatOf) {
                $at = $time->frames(960.0 * $beatOf, 44100);
                $around = array_map(abs(...), \array_slice($left, $at - 4000, 8000));
                $peak = max([0.0, ...$around]);
                $first = array_key_first(array_filter($around, static fn (float $x): bool => $x > 0.35 * $peak)) ?? 0;
                self::assertGreaterThan(0.1, $peak);
                self::assertEqualsWithDelta(4000, $first, 60, "beat $beatOf");
            }
        }
    }

    /** Echoes that go by the beat come where its eighths do, and what turns by the beat is where the ticks are: nothing clicks. */
    public function testInsertsGoByTheTempoOfTheMoment(): void
    {
        $tone = Sounds::sine(441, 6 * 44100, 44100, 0.3);
        $beat = self::beat([
            ['type' => 'fill-pad', 'pad' => 'a1', 'sample' => Sounds::put(self::folder(), new StereoBlock($tone, $tone)), 'name' => 'Tone', 'role' => 'tonal', 'start' => 0, 'end' => 6 * 44100],
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a1', 127]], 'take' => [[0, 'a0'], [960, 'a0'], [1920, 'a0'], [2880, 'a0']]],
            ['type' => 'set-movement', 'path' => 'tempo', 'points' => [[0, 60, 0], [self::BAR, 120, 0]]],
        ]);
        $channel = $beat->pad('a1')->channel;
        $swayed = RandomBeats::changed($beat, [['type' => 'add-insert', 'node' => $channel, 'kind' => 'tremolo'], ['type' => 'set', 'under' => 'mixer/'.$channel.'/inserts/i3', 'style' => 'level', 'time' => 'straight', 'sixteenths' => 4, 'depth' => 100]]);
        $left = self::heard($swayed);
        $time = Timeline::song($swayed);
        $level = static fn (float $tick): float => max([0.0, ...array_map(abs(...), \array_slice($left, $time->frames($tick, 44100) - 60, 120))]);
        foreach ([1, 2, 3] as $beatOf) {
            // Loudest on the beat, silent half a beat later.
            self::assertGreaterThan(20.0 * $level(960.0 * $beatOf + 480.0), $level(960.0 * $beatOf));
        }
        $steady = RandomBeats::changed($swayed, [['type' => 'set-movement', 'path' => 'tempo', 'points' => []]]);
        self::assertLessThan(1.01 * self::roughness(self::heard($steady)), self::roughness($left), 'and as smooth as where the tempo stands');

        $echoed = RandomBeats::changed(self::beat([['type' => 'set-movement', 'path' => 'tempo', 'points' => [[0, 60, 1], [1200, 120, 0]]], ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [], 'take' => [[960, 'a0'], [1920, 'a0'], [2880, 'a0']]]]), [
            ['type' => 'add-insert', 'node' => 'c1', 'kind' => 'delay'], ['type' => 'set', 'under' => 'mixer/c1/inserts/i3', 'time' => 'straight', 'sixteenths' => 8, 'sides' => 0, 'feedback' => 70, 'mix' => 50, 'lowCutHz' => 20, 'highCutHz' => 20000],
        ]);
        $left = self::heard($echoed);
        // What was struck at 0 comes again half a note later, of which five eighths went at 60 and the rest at 120.
        $first = self::onsetNear($left, Timeline::song($echoed)->frames(1920.0, 44100));
        self::assertEqualsWithDelta(Timeline::song($echoed)->frames(1920.0, 44100), $first, Plan::song($echoed, Passage::song($echoed), self::sounds())->frames / 200);
        self::assertEqualsWithDelta(44100, self::onsetNear($left, $first + 44100) - $first, 300, 'then by the new tempo');
    }

    /** @return list<float> the left side of its song */
    private static function heard(Beat $beat): array
    {
        $left = [];
        foreach ((new Renderer(self::sounds(), SegmentCache::none()))->stream(Plan::song($beat, Passage::song($beat), self::sounds())) as $moment) {
            array_push($left, ...$moment->mix->block()->left);
        }

        return $left;
    }

    /**
     * The sharpest bend in two seconds of it.
     *
     * @param list<float> $sound
     */
    private static function roughness(array $sound): float
    {
        return max(array_map(static fn (int $i): float => abs($sound[$i] - 2.0 * $sound[$i + 1] + $sound[$i + 2]), range(500, 88_200)));
    }

    /** @param list<float> $sound */
    private static function onsetNear(array $sound, int $frame): int
    {
        $part = array_map(abs(...), \array_slice($sound, $frame - 8000, 16_000));

        return $frame - 8000 + (int) array_key_first(array_filter($part, static fn (float $x): bool => $x > 0.4 * max([0.0, ...$part])));
    }

    /** Carried out as MIDI it takes as long to every bar. */
    public function testMidiKeepsTheTempoThatMoves(): void
    {
        $beat = self::beat([['type' => 'set-song', 'sections' => ['s1', 's1', 's1']], ['type' => 'set-movement', 'path' => 'tempo', 'points' => [[0, 90, 1], [self::BAR, 150, 0.5], [2 * self::BAR, 60, 0]]]]);
        $tempi = MidiFile::read(MidiWriter::of($beat), 'tempi.mid')->tempi;
        $time = Timeline::song($beat);
        foreach ([self::BAR, 1.5 * self::BAR, 2 * self::BAR, 3 * self::BAR] as $until) {
            $seconds = 0.0;
            foreach ($tempi as $i => [$tick, $bpm]) {
                $seconds += max(0.0, min($until, $tempi[$i + 1][0] ?? $until) - $tick) * 60.0 / 960.0 / $bpm;
            }
            self::assertEqualsWithDelta($time->seconds($until), $seconds, 0.001);
        }
        self::assertEqualsWithDelta([0, 90.0], $tempi[0], 1e-3);
        self::assertLessThan(150, \count($tempi));
    }

    public function testWhatIsRefusedSaysWhy(): void
    {
        $beat = self::beat([['type' => 'set-movement', 'path' => 'tempo', 'points' => [[0, 200, 0], [960, 100, 0]]]]);
        foreach ([
            [['type' => 'set-movement', 'path' => 'tempo', 'scope' => 'pattern', 'of' => 'p1', 'points' => [[0, 90]]], 'A pattern keeps to the tempo of what it is played in'],
            [['type' => 'set-movement', 'path' => 'tempo', 'points' => [[0, 20]]], 'must lie between 30 BPM and 300 BPM'],
            [['type' => 'scale-time', 'factor' => 2.0], 'would leave 30 to 300 BPM'],
        ] as [$change, $words]) {
            try {
                RandomBeats::changed($beat, [$change]);
                self::fail($words);
            } catch (InvalidChange $e) {
                self::assertStringContainsString($words, $e->getMessage());
            }
        }
        $slower = RandomBeats::changed($beat, [['type' => 'scale-time', 'factor' => 0.5]]);
        self::assertEqualsWithDelta(Timeline::song($beat)->seconds(self::BAR), Timeline::song($slower)->seconds(self::BAR / 2), 1e-9, 'in half as many beats it lasts as long');
        self::assertTrue(Timeline::song(RandomBeats::changed($beat, [['type' => 'set-movement', 'path' => 'tempo', 'on' => 0]]))->isSteady());
    }

    private static ?string $folder = null;

    private static function folder(): string
    {
        return self::$folder ??= Sounds::folder();
    }

    private static function sounds(): PadSounds
    {
        return new PadSounds(new SampleLibrary(self::folder()), Beat::SAMPLE_RATE);
    }

    /**
     * One bar of four hits.
     *
     * @param list<array<string, mixed>> $changes
     */
    private static function beat(array $changes): Beat
    {
        return RandomBeats::changed(Beat::empty('Tempi'), [
            ['type' => 'set-tempo', 'bpm' => 100], ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 1],
            ['type' => 'fill-pad', 'pad' => 'a0', 'sample' => Sounds::put(self::folder(), Sounds::hit(5, 3000, 0.7)), 'name' => 'Tick', 'role' => 'percussion', 'start' => 0, 'end' => 3000],
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 100], [960, 'a0', 100], [1920, 'a0', 100], [2880, 'a0', 100]]],
            ...$changes,
        ]);
    }
}
