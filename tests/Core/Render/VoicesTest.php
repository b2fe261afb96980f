<?php

namespace Pestle\Tests\Core\Render;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\Renderer;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;
use Pestle\Core\Render\Voice;
use Pestle\Core\Render\VoicePlanner;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Song\Entry;
use Pestle\Core\Theory\SoundRules;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

/** Known answers: where a hit falls, how loud, how it begins and ends. At 60 BPM a quarter is 44,100 frames. */
final class VoicesTest extends TestCase
{
    private string $folder;

    protected function setUp(): void
    {
        $this->folder = Sounds::folder();
    }

    public function testHitsFallOnTheirFrameWithTheirLevelAndPlace(): void
    {
        $click = array_fill(0, 400, 0.0);
        $click[0] = 0.25;
        $beat = $this->beat(new StereoBlock($click, $click), [[960, 'a0', 127], [1200, 'a0', 64], [2160, 'a0', 127]], [
            ['type' => 'set-feel', 'patterns' => ['p1'], 'swing' => 60], ['type' => 'set-pad', 'pad' => 'a0', 'pan' => 1.0],
        ]);
        $sound = $this->song($beat);
        $gain = 0.25 * \M_SQRT2;
        self::assertEqualsWithDelta($gain, $sound->right[44100], 1e-6);
        self::assertEqualsWithDelta(0.0, $sound->left[44100], 1e-6);
        // The off-beat sixteenth at 60 % swing falls 288 ticks after the quarter.
        self::assertEqualsWithDelta($gain * (64 / 127) ** 1.5, $sound->right[44100 + 13230], 1e-6);
        self::assertEqualsWithDelta($gain, $sound->right[88200 + 13230], 1e-6);
        self::assertSame(3, \count(array_filter($sound->right, static fn (float $x): bool => abs($x) > 1e-6)));
    }

    public function testSlicesPlayTheRecordingBackAsItWas(): void
    {
        // Noise throughout: every gap and every doubled frame would show.
        $recording = Sounds::hit(7, 4 * 44100, 0.4);
        $hash = Sounds::put($this->folder, $recording);
        $beat = RandomBeats::changed(Beat::empty('Replay'), [
            ['type' => 'set-tempo', 'bpm' => 60],
            ['type' => 'set-slices', 'sample' => $hash, 'markers' => [0, 20000, 44100, 91234, 150000]],
            ['type' => 'slices-to-pads', 'sample' => $hash, 'name' => 'Loop', 'frames' => 4 * 44100, 'rate' => 44100, 'role' => 'tonal', 'bars' => 1],
        ]);
        self::assertCount(5, $beat->kit->pads);
        $sound = $this->song($beat, 'p2');
        $worst = 0.0;
        for ($i = 200; $i < 4 * 44100 - 200; ++$i) {
            $worst = max($worst, abs($sound->left[$i] - $recording->left[$i]));
        }
        self::assertLessThan(1e-4, $worst);
    }

    /** At tempos whose ticks are no whole frames, with slices that lie anywhere, in order or not: 80 dB below it nothing is different. */
    public function testSlicesJoinExactlyAtAnyTempo(): void
    {
        $recording = Sounds::hit(8, 60000, 0.4);
        $hash = Sounds::put($this->folder, $recording);
        $markers = [0, 7001, 13999, 22222, 35001, 47777];
        foreach ([86.37, 92.0, 120.0, 133.3] as $bpm) {
            $beat = RandomBeats::changed(Beat::empty('Replay'), [
                ['type' => 'set-tempo', 'bpm' => $bpm],
                ['type' => 'set-slices', 'sample' => $hash, 'markers' => $markers],
                ['type' => 'slices-to-pads', 'sample' => $hash, 'name' => 'Loop', 'frames' => 60000, 'rate' => 44100, 'role' => 'tonal'],
                ['type' => 'arrange-slices', 'sample' => $hash, 'name' => 'Loop', 'frames' => 60000, 'rate' => 44100, 'role' => 'tonal', 'order' => [0, 1, 2, 3, 4, 5]],
            ]);
            foreach (['p2', 'p3'] as $pattern) {
                $sound = $this->song($beat, $pattern)->left;
                $difference = array_map(static fn (float $a, float $b): float => $a - $b, \array_slice($sound, 100, 59700), \array_slice($recording->left, 100, 59700));
                self::assertLessThan(-80.0, Decibels::fromGain(sqrt(self::energy($difference) / self::energy($recording->left))), "$pattern at $bpm");
            }
        }
    }

    public function testTheShortestSlicesJoinAsWell(): void
    {
        $recording = Sounds::hit(9, 3000, 0.5);
        $hash = Sounds::put($this->folder, $recording);
        $beat = RandomBeats::changed(Beat::empty('Replay'), [
            ['type' => 'set-slices', 'sample' => $hash, 'markers' => [0, 230, 469, 569, 900, 1283]],
            ['type' => 'slices-to-pads', 'sample' => $hash, 'name' => 'Loop', 'frames' => 3000, 'rate' => 44100, 'role' => 'tonal'],
            ['type' => 'arrange-slices', 'sample' => $hash, 'name' => 'Loop', 'frames' => 3000, 'rate' => 44100, 'role' => 'tonal', 'order' => [0, 1, 2, 3, 4, 5]],
        ]);
        $apart = function (SoundRules $rules) use ($beat, $recording): float {
            $left = $this->song($beat->with(['rules' => $rules]), 'p3')->left;

            return max(array_map(static fn (int $i): float => abs($left[$i] - $recording->left[$i]), range(0, 2799)));
        };
        self::assertLessThan(1e-4, $apart(SoundRules::Second));
        self::assertGreaterThan(0.05, $apart(SoundRules::First), 'by the first rules a beat sounds as it did');
    }

    public function testAnInnerSliceAtTheStartOfASongDoesNotStartHard(): void
    {
        $tone = array_fill(0, 20000, 0.5);
        $beat = $this->beat(new StereoBlock($tone, $tone), [[0, 'a0', 127]], [['type' => 'set-layer', 'pad' => 'a0', 'start' => 5000]]);
        $sound = $this->song($beat)->left;
        self::assertLessThan(0.01, abs($sound[0]));
        self::assertEqualsWithDelta(0.25, $sound[intdiv(Voice::FADE, 2)], 0.01);
        self::assertEqualsWithDelta(0.5, $sound[400], 1e-4);
    }

    public function testTheShortestSamplesKeepTheirLevel(): void
    {
        foreach ([50, 97, 300] as $frames) {
            $tone = Sounds::sine(3000, $frames, 44100, 0.5);
            $sound = $this->song($this->beat(new StereoBlock($tone, $tone), [[960, 'a0', 127]], []))->left;
            self::assertGreaterThan(-1.2, 10.0 * log10(self::energy(\array_slice($sound, 44100, $frames)) / self::energy($tone)), "$frames frames");
        }
    }

    public function testOfTwoStrikesTogetherTheLaterPadSilencesTheEarlier(): void
    {
        $tone = array_fill(0, 20000, 0.25);
        $hash = Sounds::put($this->folder, new StereoBlock($tone, $tone));
        $changes = [];
        foreach (['a2', 'a10'] as $pad) {
            array_push($changes, ['type' => 'fill-pad', 'pad' => $pad, 'sample' => $hash, 'name' => $pad, 'role' => 'tonal', 'start' => 0, 'end' => 20000], ['type' => 'set-pad', 'pad' => $pad, 'choke' => 1, 'pan' => 'a2' === $pad ? -1 : 1]);
        }
        $sound = $this->song(RandomBeats::changed(Beat::empty('Together'), [...$changes, ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a2', 127], [0, 'a10', 127]]]]));
        self::assertEqualsWithDelta(0.0, $sound->left[1000], 1e-6);
        self::assertGreaterThan(0.3, $sound->right[1000]);
    }

    public function testALevelAfterACompressorDoesNotChangeHowFarItActs(): void
    {
        $tone = Sounds::sine(441, 44100, 44100, 0.9);
        foreach (['drums' => ['type' => 'set', 'under' => 'mixer/drums'], 'master' => ['type' => 'set', 'under' => 'mixer/master']] as $bus => $set) {
            $levels = [];
            foreach ([0, 1, 2] as $changes) {
                $beat = RandomBeats::changed($this->beat(new StereoBlock($tone, $tone), [[0, 'a0', 127]], []), [
                    ['type' => 'set-node', 'node' => 'c1', 'output' => 'drums'],
                    ['type' => 'set', 'under' => 'mixer/'.$bus.'/inserts/i1', 'on' => 1, 'thresholdDb' => -30, 'ratio' => 4, 'attackMs' => 1, 'releaseMs' => 200, 'makeupDb' => 0],
                    ...\array_slice([[...$set, 'gainDb' => -12], [...$set, 'fader' => 'before']], 0, $changes),
                ]);
                $levels[] = Decibels::fromGain(Peak::of(\array_slice($this->song($beat)->left, 20000, 10000)));
            }
            self::assertEqualsWithDelta($levels[0] - 12.0, $levels[1], 0.01, "$bus after");
            self::assertEqualsWithDelta($levels[0] - 3.0, $levels[2], 0.05, "$bus before");
        }
    }

    public function testCutsInsideARecordingDoNotClick(): void
    {
        $tone = Sounds::sine(100, 40000, 44100, 0.5);
        // Begins and ends at full swing of the wave.
        $beat = $this->beat(new StereoBlock($tone, $tone), [[960, 'a0', 127], [1300, 'a0', 127]], [
            ['type' => 'set-layer', 'pad' => 'a0', 'start' => 551, 'end' => 551 + 22050],
        ]);
        $sound = $this->song($beat)->left;
        $steepest = 0.0;
        for ($i = 2; $i < 120000; ++$i) {
            $steepest = max($steepest, abs($sound[$i] - 2 * $sound[$i - 1] + $sound[$i - 2]));
        }
        // A straight fade over 96 frames bends by half a level over 96; the sine itself hardly.
        self::assertLessThan(0.012, $steepest);
    }

    public function testAChokeGroupSilencesAndAHeldPadLetsGo(): void
    {
        $tone = array_fill(0, 44100, 0.25);
        $hash = Sounds::put($this->folder, new StereoBlock($tone, $tone));
        $fill = ['type' => 'fill-pad', 'sample' => $hash, 'name' => 'Tone', 'role' => 'tonal', 'start' => 0, 'end' => 44100];
        $beat = RandomBeats::changed(Beat::empty('Choke'), [
            ['type' => 'set-tempo', 'bpm' => 60], [...$fill, 'pad' => 'a0'], [...$fill, 'pad' => 'a1'],
            ['type' => 'set-pad', 'pad' => 'a0', 'choke' => 1], ['type' => 'set-pad', 'pad' => 'a1', 'choke' => 1, 'mode' => 'held'],
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 127], [480, 'a1', 127, 240]]],
        ]);
        $sound = $this->song($beat)->left;
        self::assertEqualsWithDelta(0.25, $sound[22049], 1e-6);
        self::assertEqualsWithDelta(0.25, $sound[22050 + Voice::CHOKE_FADE], 1e-6, 'only the second sounds');
        self::assertEqualsWithDelta(0.0, $sound[22050 + 11025], 1e-6, 'held for a sixteenth');
        self::assertGreaterThan(0.2, $sound[22050 + 11025 - Voice::FADE - 5]);
    }

    public function testAPadPlaysBackwardsAndItsLayersAnswerByStrength(): void
    {
        $ramp = array_map(static fn (int $i): float => $i / 50000, range(0, 39999));
        $hash = Sounds::put($this->folder, new StereoBlock($ramp, $ramp));
        $quiet = Sounds::put($this->folder, new StereoBlock(array_fill(0, 9000, 0.125), array_fill(0, 9000, 0.125)));
        $beat = RandomBeats::changed(Beat::empty('Backwards'), [
            ['type' => 'set-tempo', 'bpm' => 60],
            ['type' => 'fill-pad', 'pad' => 'a0', 'sample' => $hash, 'name' => 'Ramp', 'role' => 'tonal', 'start' => 10000, 'end' => 20000],
            ['type' => 'set-layer', 'pad' => 'a0', 'reversed' => 1],
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[960, 'a0', 127]]],
        ]);
        $sound = $this->song($beat)->left;
        foreach ([100, 200, 5000, 9800] as $i) {
            self::assertEqualsWithDelta(0.4 - $i / 50000, $sound[44100 + $i], 2e-4);
        }
        self::assertEqualsWithDelta(0.0, $sound[44100 + 10001], 1e-6);
        $layered = RandomBeats::changed($beat, [
            ['type' => 'land-sounds', 'pad' => 'a0', 'how' => 'strength', 'sounds' => [['sample' => $hash, 'name' => 'Ramp', 'frames' => 40000, 'role' => 'tonal', 'peakDb' => -2.0], ['sample' => $quiet, 'name' => 'Quiet', 'frames' => 9000, 'role' => 'tonal', 'peakDb' => -18.0]]],
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 60], [1920, 'a0', 127]], 'take' => [[960, 'a0']]],
        ]);
        $sound = $this->song($layered)->left;
        self::assertEqualsWithDelta(0.125 * VoicePlanner::velocityGain(60, 1.5), $sound[4000], 1e-4);
        self::assertEqualsWithDelta(0.4, $sound[88200 + 20000], 1e-3);
        $both = $this->song(RandomBeats::changed($layered, [['type' => 'set-pad', 'pad' => 'a0', 'answer' => 'all']]))->left;
        self::assertEqualsWithDelta(4000 / 50000 + 0.125, $both[88200 + 4000], 1e-3);
    }

    public function testALoopsTailSoundsIntoItsStart(): void
    {
        $tone = array_fill(0, 30000, 0.25);
        $beat = $this->beat(new StereoBlock($tone, $tone), [[3600, 'a0', 127]], [['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 1]]);
        $sounds = new PadSounds(new SampleLibrary($this->folder), Beat::SAMPLE_RATE);
        $plan = Plan::loop($beat, 'p1', $sounds);
        $moments = [];
        foreach ((new Renderer($sounds, SegmentCache::none()))->loop($plan) as $moment) {
            if (null !== $moment) {
                $moments[$moment->segment->index] = $moment;
            }
        }
        self::assertSame(176400, $plan->frames);
        self::assertEqualsWithDelta(0.25, $moments[0]->mix->block()->left[100], 1e-6);
        self::assertSame(0.0, $this->song($beat)->left[100]);
    }

    public function testChanceIsTheSameEveryTime(): void
    {
        $tone = Sounds::hit(1, 500);
        $hits = array_map(static fn (int $i): array => [$i * 240, 'a0', 127, 240, 50], range(0, 15));
        $beat = $this->beat($tone, $hits, [['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 1]]);
        $planner = new VoicePlanner($beat, new PadSounds(new SampleLibrary($this->folder), Beat::SAMPLE_RATE));
        $silent = Passage::of($beat->withPattern($beat->pattern('p1')->withHits([])), 'p1', true);
        $pass = static fn (int $n): array => iterator_to_array($planner->song([...array_fill(0, $n, [$silent, 0, 0, null, Timeline::song($beat)]), [Passage::of($beat, 'p1', true), 0, 176400, null, Timeline::song($beat)]]))[$n]['a0'] ?? [];
        self::assertEquals($pass(0), $pass(0));
        self::assertNotEquals($pass(0), $pass(1));
        $total = array_sum(array_map(static fn (int $n): int => \count($pass($n)), range(0, 39)));
        self::assertEqualsWithDelta(320, $total, 60);
    }

    public function testMuteAndSoloAreHeard(): void
    {
        $tone = array_fill(0, 4000, 0.25);
        $beat = $this->beat(new StereoBlock($tone, $tone), [[0, 'a0', 127]], []);
        self::assertGreaterThan(0.2, $this->song($beat)->peak());
        self::assertSame(0.0, $this->song(RandomBeats::changed($beat, [['type' => 'set', 'under' => 'mixer/c1', 'mute' => 1]]))->peak());
        self::assertSame(0.0, $this->song(RandomBeats::changed($beat, [['type' => 'set', 'under' => 'mixer/drums', 'mute' => 1]]))->peak());
        $faded = RandomBeats::changed($beat, [['type' => 'set', 'under' => 'mixer/c1', 'gainDb' => -6.0]]);
        self::assertEqualsWithDelta(0.25 * Decibels::toGain(-6.0), $this->song($faded)->left[1000], 1e-6);
    }

    /**
     * @param list<list<int|string>>     $hits
     * @param list<array<string, mixed>> $changes
     */
    private function beat(StereoBlock $sound, array $hits, array $changes): Beat
    {
        $hash = Sounds::put($this->folder, $sound);

        return RandomBeats::changed(Beat::empty('Known'), [
            ['type' => 'set-tempo', 'bpm' => 60],
            ['type' => 'fill-pad', 'pad' => 'a0', 'sample' => $hash, 'name' => 'Sound', 'role' => 'kick', 'start' => 0, 'end' => $sound->frames()],
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => $hits],
            ...$changes,
        ]);
    }

    private function song(Beat $beat, string $pattern = 'p1'): StereoBlock
    {
        $sounds = new PadSounds(new SampleLibrary($this->folder), Beat::SAMPLE_RATE);
        $whole = StereoBlock::silence(0);
        foreach ((new Renderer($sounds, SegmentCache::none()))->stream(Plan::song($beat, [Entry::once($pattern)], $sounds)) as $moment) {
            $whole = $whole->append($moment->mix->block());
        }

        return $whole;
    }

    /** @param list<float> $side */
    private static function energy(array $side): float
    {
        return array_sum(array_map(static fn (float $x): float => $x * $x, $side));
    }
}
