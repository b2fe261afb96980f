<?php

namespace Pestle\Tests\Core\Render;

use Pestle\Core\Analysis\LoudnessMeter;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Exchange\StemGrouping;
use Pestle\Core\Mix\Gain;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Render\Engine;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\PlanReader;
use Pestle\Core\Render\Renderer;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Song\Entry;
use Pestle\Core\Song\Movement;
use Pestle\Core\Song\Movements;
use Pestle\Core\Song\Scope;
use Pestle\Core\Theory\Curve;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

/** What the lines of the mixer do with known sounds: a quiet tone on c1 all the time, loud hits on c2 at every beat. */
final class RoutingTest extends TestCase
{
    /** A hundred times less than one frame would make. */
    private const NEARLY = 1e-5;

    private static string $folder;
    private static Beat $beat;

    public static function setUpBeforeClass(): void
    {
        self::$folder = Sounds::folder();
        $tone = Sounds::sine(441, 180_000, 44100, 0.05);
        $samples = [Sounds::put(self::$folder, new StereoBlock($tone, $tone), 44100, SampleFormat::Float32), Sounds::put(self::$folder, Sounds::hit(3, 8000, 0.9), 44100, SampleFormat::Int24)];
        $changes = [['type' => 'set-tempo', 'bpm' => 120]];
        foreach ($samples as $i => $hash) {
            $changes[] = ['type' => 'fill-pad', 'pad' => 'a'.$i, 'sample' => $hash, 'name' => ['Tone', 'Hit'][$i], 'role' => 'tonal', 'start' => 0, 'end' => [180_000, 8000][$i]];
        }
        self::$beat = RandomBeats::changed(Beat::empty('Lines'), [...$changes, ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 127], ...array_map(static fn (int $b): array => [960 * $b, 'a1', 127], range(1, 7))]]]);
    }

    public function testASendAddsAsMuchAsItsLevelSays(): void
    {
        $dry = self::level([self::muted('c2')]);
        $sent = [self::muted('c2'), ['type' => 'add-node', 'kind' => 'return', 'id' => 'r1', 'name' => 'More', 'from' => 'c1'], ['type' => 'set', 'under' => 'mixer/c1/sends/r1', 'gainDb' => -6.0206]];
        self::assertEqualsWithDelta($dry * 1.5, self::level($sent), 1e-5);
        // Behind the fader it follows it, before it stands on its own; the return has a level too.
        $fader = ['type' => 'set', 'under' => 'mixer/c1', 'gainDb' => -20];
        self::assertEqualsWithDelta($dry * 0.15, self::level([...$sent, $fader]), 1e-5);
        $before = [...$sent, $fader, ['type' => 'set', 'under' => 'mixer/c1/sends/r1', 'beforeFader' => 1]];
        self::assertEqualsWithDelta($dry * 0.6, self::level($before), 1e-5);
        self::assertEqualsWithDelta($dry * 0.1, self::level([...$before, self::muted('r1')]), 1e-5);
        self::assertSame(0.0, self::level([...$before, self::muted('c1')]), 'what is muted is not sent');
        self::assertEqualsWithDelta($dry, self::level([...$sent, ['type' => 'remove-node', 'node' => 'r1']]), 1e-5);
    }

    public function testAHitPullsTheToneDownAlsoWhereItIsNotHeardItself(): void
    {
        $steered = [['type' => 'set', 'under' => 'mixer/c1/inserts/i2', 'on' => 1, 'thresholdDb' => -22, 'ratio' => 20, 'attackMs' => 1, 'releaseMs' => 50], ['type' => 'set-insert', 'node' => 'c1', 'insert' => 'i2', 'key' => 'c2']];
        $mix = self::song([...$steered, self::muted('c2')]);
        $at = static fn (float $beats): float => Peak::of(\array_slice($mix->left, (int) ($beats * 22050), 400));
        foreach ([1, 2, 5] as $beat) {
            self::assertEqualsWithDelta(0.05, $at($beat - 0.05), 0.001, 'before the hit');
            self::assertLessThan(0.015, $at($beat + 0.03), 'under the hit');
        }
        // Told to follow itself again, so soft a tone is left alone.
        $own = self::song([...$steered, self::muted('c2'), ['type' => 'set-insert', 'node' => 'c1', 'insert' => 'i2', 'key' => '']]);
        self::assertEqualsWithDelta(0.05, Peak::of(\array_slice($own->left, 22050 + 660, 400)), 0.001);
    }

    public function testACurveMovesALevelOverTheSongAndStandsStillElsewhere(): void
    {
        // From -20 dB to 0 over the second bar, then a jump.
        $curve = ['type' => 'set-movement', 'path' => 'mixer/c1/gainDb', 'points' => [[3840, -20], [5760, 0, 1], [7200, -60]]];
        $mix = self::song([self::muted('c2'), $curve]);
        $at = static fn (int $tick): float => Decibels::fromGain(Peak::of(\array_slice($mix->left, (int) ($tick * 22050 / 960) - 60, 120)) / 0.05);
        foreach ([960 => -20.0, 3800 => -20.0, 4800 => -10.0, 5280 => -5.0, 5760 => 0.0, 7100 => 0.0, 7300 => -60.0] as $tick => $decibels) {
            self::assertEqualsWithDelta($decibels, $at($tick), 0.15, 'tick '.$tick);
        }
        // No step on the way: the tone's own slope and nothing beside it.
        $steps = array_map(static fn (int $i): float => abs($mix->left[$i + 1] - 2 * $mix->left[$i] + $mix->left[$i - 1]), range(89_000, 130_000));
        self::assertLessThan(0.05 * (2 * \M_PI * 441 / 44100) ** 2 * 1.05, max($steps));
        // A section that is repeated goes on along the curve; on its own it is as it is where it comes first.
        $twice = [self::muted('c2'), ['type' => 'set', 'song/e1/repeats' => 2], ['type' => 'set-movement', 'path' => 'mixer/c1/gainDb', 'points' => [[0, -20], [15360, 0]]]];
        $repeated = self::song($twice, [new Entry('', 's1', 2)]);
        foreach ([3840 => -15.0, 7600 => -10.1, 7900 => -9.7, 11520 => -5.0] as $tick => $decibels) {
            self::assertEqualsWithDelta($decibels, Decibels::fromGain(Peak::of(\array_slice($repeated->left, (int) ($tick * 22050 / 960) - 60, 120)) / 0.05), 0.2, 'tick '.$tick);
        }
        self::assertTrue(\array_slice(self::song($twice, [Entry::once('s1')])->left, 0, 170_000) === \array_slice($repeated->left, 0, 170_000));
        // From one side to the other, as loud in the middle as without.
        $across = self::song([self::muted('c2'), ['type' => 'set-movement', 'path' => 'mixer/c1/pan', 'points' => [[0, -1], [7680, 1]]]]);
        $sides = static fn (int $tick): array => array_map(static fn (array $side): float => Peak::of(\array_slice($side, (int) ($tick * 22050 / 960) - 60, 120)) / 0.05, [$across->left, $across->right]);
        foreach ([200 => [1.41, 0.03], 3840 => [1.0, 1.0], 7480 => [0.03, 1.41]] as $tick => $expected) {
            self::assertEqualsWithDelta($expected, $sides($tick), 0.05, 'tick '.$tick);
        }
        // The same section beside the song, and after the curve is gone: as it is set.
        $plain = self::song([self::muted('c2')]);
        self::assertTrue(self::song([self::muted('c2'), $curve], [Entry::once('p1')])->left === $plain->left);
        self::assertTrue(self::song([self::muted('c2'), $curve, [...$curve, 'points' => []]])->left === $plain->left);
    }

    public function testACurveThatStandsStillIsASettingToTheBit(): void
    {
        $settings = ['mixer/c1/gainDb' => -7.5, 'mixer/c1/pan' => 0.3, 'mixer/c1/inserts/i1/bands/3/gainDb' => 4.5, 'mixer/c2/inserts/i2/thresholdDb' => -33.0, 'mixer/master/gainDb' => 2.5];
        $base = [['type' => 'set', 'under' => 'mixer', 'c1/inserts/i1/bands/3/on' => 1, 'c2/inserts/i2/on' => 1]];
        $curves = [];
        foreach ($settings as $path => $value) {
            $curves[] = ['type' => 'set-movement', 'path' => $path, 'points' => [[0, $value], [500, $value]]];
        }
        [$set, $still] = [self::song([...$base, ['type' => 'set', ...$settings]]), self::song([...$base, ...$curves])];
        self::assertTrue([$set->left, $set->right] === [$still->left, $still->right]);
        self::assertNotSame($set->left, self::song($base)->left);
    }

    public function testAReturnIsAStemOfItsOwnOrGoesWithItsSources(): void
    {
        $beat = RandomBeats::changed(self::$beat, [['type' => 'add-node', 'kind' => 'return', 'id' => 'r1', 'name' => 'Squeezed', 'from' => 'c1'], ['type' => 'add-send', 'node' => 'c2', 'to' => 'r1'], ['type' => 'add-insert', 'node' => 'r1', 'kind' => 'compressor'], ['type' => 'set', 'under' => 'mixer/r1/inserts/i1', 'thresholdDb' => -40]]);
        $sources = StemGrouping::Channel->stems($beat) ?? [];
        self::assertSame(['a0' => 'Tone', 'a1' => 'Hit'], $sources);
        $peaks = [2 => ['Tone' => 0.0], 3 => ['Tone' => 0.0, 'Squeezed' => 0.0]];
        foreach ([$sources, [...$sources, 'r1' => 'Squeezed']] as $stems) {
            foreach (self::renderer()->stream(Plan::song($beat, [Entry::once('p1')], self::sounds()), $stems) as $moment) {
                self::assertSame(array_unique(array_values($stems)), array_keys($moment->stems));
                self::assertTrue($moment->mix->block()->left === Gain::sum(array_values($moment->stems), $moment->segment->frames)->left);
                foreach ($moment->stems as $name => $block) {
                    $peaks[\count($stems)][$name] = max($peaks[\count($stems)][$name] ?? 0.0, $block->peak());
                }
            }
        }
        self::assertEqualsWithDelta(0.05, $peaks[3]['Tone'], 0.001, 'alone, nothing but the tone');
        self::assertGreaterThan(0.051, $peaks[2]['Tone'], 'with what came of it in the return');
        self::assertGreaterThan(0.01, $peaks[3]['Squeezed']);
    }

    public function testWhatWouldGoRoundInACircleIsRefusedWithASentence(): void
    {
        $beat = RandomBeats::changed(self::$beat, [
            ['type' => 'add-node', 'kind' => 'group', 'id' => 'g1', 'name' => 'One', 'from' => 'c1'],
            ['type' => 'add-node', 'kind' => 'group', 'id' => 'g2', 'name' => 'Two', 'from' => 'g1'],
            ['type' => 'add-node', 'kind' => 'return', 'id' => 'r1', 'name' => 'Wet', 'from' => 'g2'],
        ]);
        self::assertSame(['c1', 'g1', 'g2', 'r1'], array_values(array_intersect($beat->mixer->order, ['g2', 'r1', 'c1', 'g1'])));
        foreach ([
            ['type' => 'set-node', 'node' => 'g2', 'output' => 'g1'],
            ['type' => 'add-send', 'node' => 'r1', 'to' => 'r1'],
            ['type' => 'set-insert', 'node' => 'c1', 'insert' => 'i2', 'key' => 'r1'],
        ] as $i => $change) {
            $turnedOn = 2 === $i ? RandomBeats::changed($beat, [['type' => 'set', 'mixer/c1/inserts/i2/on' => 1]]) : $beat;
            try {
                Changes::apply(Changes::read($change), $turnedOn);
                self::fail('It was taken.');
            } catch (InvalidChange $e) {
                self::assertStringContainsString('would go round in a circle', $e->getMessage());
            }
        }
        // What is gone leaves nothing behind: its members go where it went, its curves and sends go.
        $moved = RandomBeats::changed($beat, [['type' => 'set-movement', 'path' => 'mixer/g2/sends/r1/gainDb', 'points' => [[0, -3]]], ['type' => 'remove-node', 'node' => 'r1'], ['type' => 'remove-node', 'node' => 'g1']]);
        self::assertSame(['g2', [], []], [$moved->channel('c1')->output, $moved->channel('g2')->sends, $moved->movements->all]);
        self::assertSame(['g2', 'drums'], array_reverse(array_map(strval(...), array_keys($moved->mixer->of(NodeKind::Group)))));
    }

    /** Ids and paths that nobody writes by hand, but a document may hold. */
    public function testOddNamesAndPathsHarmNothing(): void
    {
        $plain = self::song([['type' => 'add-node', 'kind' => 'group', 'id' => 'g7', 'name' => 'Odd', 'from' => 'c1']]);
        self::assertTrue($plain->left === self::song([['type' => 'add-node', 'kind' => 'group', 'id' => 'limiter', 'name' => 'Odd', 'from' => 'c1']])->left);
        $odd = self::$beat->with(['movements' => Movements::of(...array_map(static fn (string $path): Movement => new Movement($path, Scope::Song, '', new Curve([[0.0, 1.0, 0.0]])), ['mixer/c1/brightness', 'mixer/c1/mute', 'mixer/c9/gainDb', 'tempo/swing']))]);
        $left = [];
        foreach (self::renderer()->stream(Plan::song($odd, [Entry::once('s1')], self::sounds())) as $moment) {
            array_push($left, ...$moment->mix->block()->left);
        }
        self::assertTrue($left === self::song([])->left);
        foreach ([
            [['type' => 'add-node', 'kind' => 'group', 'id' => 'master', 'name' => 'Second'], 'is in the beat already'],
            [['type' => 'add-node', 'kind' => 'channel', 'id' => 'c5', 'name' => 'Nothing'], 'a channel comes with the sound that feeds it'],
            [['type' => 'remove-node', 'node' => 'c1'], 'it goes with the last sound that feeds it'],
            [['type' => 'add-send', 'node' => 'c1', 'to' => 'drums'], 'to must be a return of this beat.'],
            [['type' => 'set-node', 'node' => 'c1', 'output' => 'c2'], 'output must be a group of this beat.'],
            [['type' => 'set-movement', 'path' => 'mixer/c1/mute', 'points' => [[0, 1]]], 'Mute cannot move: it is on or off.'],
            [['type' => 'set-movement', 'path' => 'mixer/c1/gainDb', 'points' => [[0, 40]]], 'points must lie between -60 dB and 12 dB.'],
            [['type' => 'add-insert', 'node' => 'c1', 'kind' => 'magic'], 'kind must be one of: equalizer, compressor, gate,'],
            [['type' => 'set-insert', 'node' => 'c1', 'insert' => 'i9', 'place' => 0], 'This insert is no longer there.'],
        ] as [$change, $message]) {
            try {
                Changes::apply(Changes::read($change), self::$beat);
                self::fail('It was taken: '.$message);
            } catch (InvalidChange $e) {
                self::assertStringContainsString($message, $e->getMessage());
            }
        }
        $this->expectExceptionMessageMatches('/^(Tone|Hit) would go round in a circle/');
        RandomBeats::changed(self::$beat, [['type' => 'set-insert', 'node' => 'c1', 'insert' => 'i2', 'key' => 'c2'], ['type' => 'set', 'mixer/c1/inserts/i2/on' => 1], ['type' => 'set-insert', 'node' => 'c2', 'insert' => 'i2', 'key' => 'c1'], ['type' => 'set', 'mixer/c2/inserts/i2/on' => 1]]);
    }

    /** Channels lower and the master higher: what is pressed, saturated and shared behind the faders sounds as before. */
    public function testGainsAreStagedWithoutBeingHeard(): void
    {
        $made = [
            ['type' => 'set-node', 'node' => 'c1', 'output' => 'drums'],
            ['type' => 'set', 'under' => 'mixer/drums/inserts/i1', 'on' => 1, 'thresholdDb' => -30, 'ratio' => 4],
            ['type' => 'add-insert', 'node' => 'drums', 'kind' => 'saturation'],
            ['type' => 'add-insert', 'node' => 'drums', 'kind' => 'harmonics'],
            ['type' => 'add-node', 'kind' => 'return', 'id' => 'r1', 'name' => 'Squeezed', 'from' => 'c1'],
            ['type' => 'set', 'under' => 'mixer/c1/sends/r1', 'gainDb' => -6, 'beforeFader' => 1],
            ['type' => 'add-insert', 'node' => 'r1', 'kind' => 'compressor'],
            ['type' => 'set', 'under' => 'mixer/master', 'gainDb' => -3, 'inserts/i1/on' => 1, 'inserts/i1/thresholdDb' => -24],
        ];
        $before = self::song($made);
        $after = self::song([...$made, ['type' => 'stage-gains', 'byDb' => -7.3]]);
        $apart = static fn (StereoBlock $a, StereoBlock $b): float => max([0.0, ...array_map(static fn (float $x, float $y): float => abs($x - $y), $a->slice(0, 80_000)->left, $b->slice(0, 80_000)->left)]);
        self::assertGreaterThan(0.05, $before->peak());
        self::assertLessThan(0.001, $apart($before, $after));
        self::assertGreaterThan(0.01, $apart($before, self::song([...$made, ['type' => 'set', 'under' => 'mixer/master/inserts/i1', 'thresholdDb' => -16.7]])));
        $levels = static function (Beat $beat): array {
            [$answer] = (new Engine(new SampleLibrary(self::$folder), SegmentCache::none()))->answer(['op' => 'measure', 'beat' => BeatCodec::encode($beat), 'what' => 's1']);

            return $answer;
        };
        [$told, $staged] = [$levels(RandomBeats::changed(self::$beat, $made)), $levels(RandomBeats::changed(self::$beat, [...$made, ['type' => 'stage-gains', 'byDb' => -7.3]]))];
        self::assertEqualsWithDelta($told['integratedLufs'], $staged['integratedLufs'], 0.11);
        self::assertIsArray($told['peaksDb']);
        self::assertIsArray($staged['peaksDb']);
        self::assertIsFloat($told['peaksDb']['c1']);
        self::assertEqualsWithDelta($told['peaksDb']['c1'] - 7.3, $staged['peaksDb']['c1'], 0.11);
        try {
            RandomBeats::changed(self::$beat, [['type' => 'set', 'mixer/c1/gainDb' => 8], ['type' => 'stage-gains', 'byDb' => 6]]);
            self::fail('It was taken.');
        } catch (InvalidChange $e) {
            self::assertStringContainsString('would be at +14.0 dB; it goes from -60 to 12 dB.', $e->getMessage());
        }
        $meter = new LoudnessMeter(Beat::SAMPLE_RATE);
        $meter->add($before);
        self::assertEqualsWithDelta($meter->integratedLufs(), $told['integratedLufs'], 0.06);
        self::assertEqualsWithDelta($meter->truePeakDb(), $told['truePeakDb'], 0.06);
    }

    /** A look-ahead makes its line late, all others wait, and the mix is put back. States are rounded where segments meet, which is elsewhere in the sound then. */
    public function testWhatLooksAheadMovesNothing(): void
    {
        $lines = [
            ['type' => 'add-node', 'kind' => 'return', 'id' => 'r1', 'name' => 'More', 'from' => 'c1'],
            ['type' => 'add-send', 'node' => 'c2', 'to' => 'r1'],
            ['type' => 'add-insert', 'node' => 'r1', 'kind' => 'delay'],
            ['type' => 'set', 'under' => 'mixer', 'c2/inserts/i2/on' => 1, 'c2/inserts/i2/ratio' => 1, 'master/inserts/i1/on' => 1, 'master/inserts/i1/ratio' => 1, 'master/gainDb' => -12],
        ];
        $ducked = [['type' => 'add-insert', 'node' => 'c1', 'kind' => 'ducker'], ['type' => 'set-insert', 'node' => 'c1', 'insert' => 'i3', 'key' => 'c2']];
        $late = [...$lines, ['type' => 'set', 'under' => 'mixer', 'c2/inserts/i2/aheadMs' => 7.3, 'master/inserts/i1/aheadMs' => 2]];
        self::assertSame(320 + 96, RandomBeats::changed(self::$beat, $late)->mixer->late());
        [$was, $is] = [self::song(array_merge($lines, $ducked)), self::song(array_merge($late, $ducked))];
        $n = min($was->frames(), $is->frames());
        self::assertSame(0.0, max([...\array_slice($was->left, $n), ...\array_slice($is->left, $n), 0.0]));
        self::assertLessThan(self::NEARLY, self::apart(\array_slice($was->left, 0, $n), \array_slice($is->left, 0, $n)));
        $loop = static function (Beat $beat): array {
            $left = [];
            foreach (self::renderer()->stream(Plan::loop($beat, 's1', self::sounds())) as $moment) {
                array_push($left, ...$moment->mix->block()->left);
            }

            return $left;
        };
        $fast = [['type' => 'set-tempo', 'bpm' => 127.3]];
        self::assertLessThan(self::NEARLY, self::apart($loop(RandomBeats::changed(self::$beat, [...$lines, ...$fast])), $loop(RandomBeats::changed(self::$beat, [...$late, ...$fast]))));
        // Begun in the middle as well.
        $from = static function (Beat $beat): array {
            $reader = new PlanReader('x', Plan::song($beat, [Entry::once('s1')], self::sounds()), self::renderer(), 20);
            while ($reader->catchUp()) {
            }

            return $reader->next()?->mix->block()->left ?? [];
        };
        self::assertLessThan(self::NEARLY, self::apart($from(RandomBeats::changed(self::$beat, $lines)), $from(RandomBeats::changed(self::$beat, $late))));
        $this->expectException(InvalidChange::class);
        $this->expectExceptionMessage('would look ahead by 38 ms together; at most 35 ms are possible.');
        RandomBeats::changed(self::$beat, array_merge($late, ...array_fill(0, 4, [['type' => 'add-insert', 'node' => 'c2', 'kind' => 'limiter'], ['type' => 'add-insert', 'node' => 'master', 'kind' => 'limiter']])));
    }

    /**
     * @param list<float> $a
     * @param list<float> $b
     */
    private static function apart(array $a, array $b): float
    {
        self::assertCount(\count($a), $b);

        return Peak::of(array_map(static fn (float $x, float $y): float => $x - $y, $a, $b));
    }

    /** @return array<string, mixed> */
    private static function muted(string $line): array
    {
        return ['type' => 'set', 'mixer/'.$line.'/mute' => 1];
    }

    /** @param list<array<string, mixed>> $changes */
    private static function level(array $changes): float
    {
        return Peak::of(\array_slice(self::song($changes)->left, 20_000, 60_000));
    }

    /**
     * @param list<array<string, mixed>> $changes
     * @param list<Entry>|null           $what    the song when not given
     */
    private static function song(array $changes, ?array $what = null): StereoBlock
    {
        $left = $right = [];
        foreach (self::renderer()->stream(Plan::song(RandomBeats::changed(self::$beat, $changes), $what ?? [Entry::once('s1')], self::sounds())) as $moment) {
            $block = $moment->mix->block();
            array_push($left, ...$block->left);
            array_push($right, ...$block->right);
        }

        return new StereoBlock($left, $right);
    }

    private static function renderer(): Renderer
    {
        return new Renderer(self::sounds(), SegmentCache::none());
    }

    private static function sounds(): PadSounds
    {
        return new PadSounds(new SampleLibrary(self::$folder), Beat::SAMPLE_RATE, 400_000);
    }
}
