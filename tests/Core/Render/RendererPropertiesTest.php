<?php

namespace Pestle\Tests\Core\Render;

use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Exchange\StemGrouping;
use Pestle\Core\Mix\Gain;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\Renderer;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;
use Pestle\Core\Song\Entry;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What holds for every beat, tried on beats made by chance. */
final class RendererPropertiesTest extends TestCase
{
    private static RandomBeats $beats;
    private static PadSounds $sounds;

    public static function setUpBeforeClass(): void
    {
        self::$beats = new RandomBeats(Sounds::folder());
        self::$sounds = self::sounds(400_000);
    }

    /** @return iterable<string, array{int}> */
    public static function seeds(): iterable
    {
        yield from ['seed 1' => [1], 'seed 3' => [3], 'parts, seed 1' => [-1]];
    }

    /** @return iterable<string, array{int}> */
    public static function few(): iterable
    {
        yield from ['seed 1' => [1], 'parts, seed 1' => [-1]];
    }

    #[DataProvider('few')]
    public function testStemsAddUpToTheMixExactlyAndDoNotChangeIt(int $seed): void
    {
        $beat = self::beat($seed);
        foreach ($seed < 0 ? [StemGrouping::Pad, StemGrouping::Part] : [StemGrouping::Pad, StemGrouping::Channel, StemGrouping::Group] as $i => $grouping) {
            $plan = 0 === $i ? $this->loop($beat) : $this->song($beat);
            $mix = StereoBlock::silence(0);
            foreach ($this->renderer()->stream($plan, $grouping->stems($beat)) as $moment) {
                $sum = Gain::sum(array_values($moment->stems), $moment->segment->frames);
                self::assertSameSound($moment->mix->block(), $sum);
                $mix = $mix->append($sum);
            }
            self::assertGreaterThan(0.01, $mix->peak());
            if ($i < 2) {
                self::assertSameSound($this->streamed($this->renderer()->stream($plan)), $mix);
            }
        }
    }

    #[DataProvider('seeds')]
    public function testTheLoopHeardIsTheLoopDelivered(int $seed): void
    {
        $beat = self::beat($seed);
        $plan = $this->loop($beat);
        $heard = $this->renderer(new SegmentCache(50_000_000))->loop($plan);
        $delivered = $this->streamed($this->renderer()->stream($plan));
        self::assertSame($plan->frames, $delivered->frames());
        self::assertSame($this->packed($this->renderer()->stream($plan)), $this->packed($heard));
    }

    #[DataProvider('few')]
    public function testCachesFullOrHalfEvictedChangeNothing(int $seed): void
    {
        $beat = self::beat($seed);
        $cold = $this->packed($this->renderer()->loop($this->loop($beat)));
        $folder = Sounds::folder();
        $cache = new SegmentCache(50_000_000, $folder);
        $renderer = $this->renderer($cache);
        self::assertSame($cold, $this->packed($renderer->loop($this->loop($beat))));
        self::assertSame($cold, $this->packed($renderer->loop($this->loop($beat))), 'warm');

        $edited = RandomBeats::changed($beat, [['type' => 'set-cell', 'section' => 's1', 'part' => 'part-1', 'pattern' => 'p1'], ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[960, 'a0', 99]]], ['type' => 'set', 'under' => 'mixer/c1', 'gainDb' => -3.5]]);
        $after = $this->packed($renderer->loop($this->loop($edited)));
        self::assertSame($this->packed($this->renderer()->loop($this->loop($edited))), $after, 'edited on a warm cache');
        self::assertNotSame($cold, $after);
        self::assertSame($cold, $this->packed($renderer->loop($this->loop($beat))), 'undone');

        while ($cache->hasUnsaved()) {
            $cache->save();
        }
        $files = glob($folder.'/??/*') ?: [];
        self::assertNotEmpty($files);
        foreach ($files as $i => $file) {
            match ($i % 3) {
                0 => unlink($file),
                1 => null,
                2 => 0 === $i % 2 ? file_put_contents($file, substr((string) file_get_contents($file), 0, 100)) : null,
            };
        }
        self::assertSame($cold, $this->packed($this->renderer(new SegmentCache(50_000_000, $folder))->loop($this->loop($beat))), 'from what is left on the disk');
        $little = new Renderer(self::sounds(40_000), new SegmentCache(1_500_000, $folder));
        self::assertSame($cold, $this->packed($little->loop($this->loop($beat))), 'in little memory');
    }

    public function testRecordingsThatGoStraightIntoTheMixSoundTheSame(): void
    {
        $beat = Beat::empty('Recordings');
        $changes = [['type' => 'set-tempo', 'bpm' => 100], ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 1]];
        foreach (['kick', 'tonal', 'tonal', 'tonal'] as $i => $role) {
            $hash = Sounds::put(self::$beats->folder, Sounds::hit(20 + $i, 90_000 + 777 * $i, 0.9), 44100, SampleFormat::Int16);
            $channel = 'c'.($i + 1);
            $changes[] = ['type' => 'fill-pad', 'pad' => 'a'.$i, 'sample' => $hash, 'name' => 'Take '.$i, 'role' => $role, 'start' => 0, 'end' => 90_000];
            $changes[] = ['type' => 'set-pad', 'pad' => 'a'.$i, 'levelDb' => 2 * $i - 3, 'pan' => $i / 4];
            $changes[] = ['type' => 'set', 'under' => 'mixer/'.$channel, 'gainDb' => -2 * $i, 'pan' => -$i / 5];
            // None, one, two and three bands: the last have to go step by step.
            for ($band = 1; $band <= $i; ++$band) {
                $changes[] = ['type' => 'set', 'under' => 'mixer/'.$channel.'/inserts/i1/bands/'.$band, 'shape' => 'peak', 'hz' => 300 * $band, 'gainDb' => 6, 'q' => 1, 'on' => 1];
            }
            $changes[] = ['type' => 'set', 'under' => 'mixer/'.$channel.'/inserts/i2', 'on' => 1, 'thresholdDb' => -25, 'ratio' => 4, 'attackMs' => 5, 'releaseMs' => 80, 'makeupDb' => 3];
        }
        $changes[] = ['type' => 'set', 'under' => 'mixer/drums/inserts/i1', 'on' => 1, 'thresholdDb' => -20, 'ratio' => 2, 'attackMs' => 2, 'releaseMs' => 60, 'makeupDb' => 1];
        $changes[] = ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 127], [0, 'a1', 90], [100, 'a2', 127], [0, 'a3', 60]]];
        $beat = RandomBeats::changed($beat, $changes);
        $straight = $this->streamed($this->renderer()->stream($this->song($beat)));
        $kept = $this->streamed($this->renderer(new SegmentCache(50_000_000))->stream($this->song($beat)));
        self::assertSameSound($kept, $straight);
        self::assertGreaterThan(0.5, $straight->peak());
        self::assertNotSame($straight->left, $straight->right);
    }

    /** What was rendered by other rules is not taken for what is asked for, also where nothing but the limiter differs. */
    public function testRulesDoNotShareSegments(): void
    {
        $sounds = new PadSounds(new SampleLibrary(self::$beats->folder), Beat::SAMPLE_RATE);
        $noise = Sounds::put(self::$beats->folder, Sounds::hit(77, 22050, 0.9));
        $beat = RandomBeats::changed(Beat::empty('Rules'), [['type' => 'fill-pad', 'pad' => 'a0', 'sample' => $noise, 'name' => 'Noise', 'role' => 'snare', 'start' => 0, 'end' => 22050], ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 127]]], ['type' => 'set', 'mixer/master/gainDb' => 12]]);
        $of = static fn (int $rules): Beat => RandomBeats::changed($beat, [['type' => 'set-rules', 'rules' => $rules]]);
        $rendered = fn (int $rules, SegmentCache $cache): string => md5($this->packed((new Renderer($sounds, $cache))->stream(Plan::song($of($rules), [Entry::once('p1')], $sounds))));
        $cache = new SegmentCache(50_000_000);
        $own = [1 => $rendered(1, SegmentCache::none()), 2 => $rendered(2, SegmentCache::none())];
        self::assertNotSame($own[1], $own[2]);
        foreach ([2, 1, 2] as $rules) {
            self::assertSame($own[$rules], $rendered($rules, $cache), "rules $rules");
        }
    }

    public function testTheDiskCacheKeepsItsBound(): void
    {
        $folder = Sounds::folder();
        $cache = new SegmentCache(50_000_000, $folder, 300_000);
        $this->packed($this->renderer($cache)->loop($this->loop(self::$beats->beat(3))));
        while ($cache->hasUnsaved()) {
            $cache->save();
        }
        $size = static fn (): int => array_sum(array_map(filesize(...), glob($folder.'/??/*') ?: []));
        self::assertGreaterThan(300_000, $size());
        // The part of a save that was killed goes, one that is being written stays.
        [$old, $new] = [$folder.'/00/aa.123', $folder.'/00/bb.456'];
        @mkdir($folder.'/00');
        touch($old, time() - 1000);
        touch($new, time() + 10);
        $cache->evict();
        clearstatcache();
        self::assertLessThanOrEqual(300_000, $size());
        self::assertGreaterThan(100_000, $size());
        self::assertSame([false, true], [file_exists($old), file_exists($new)]);
    }

    public function testASongGoesToTheEndOfItsLastTail(): void
    {
        $beat = self::$beats->beat(5);
        $plan = $this->song($beat);
        $sound = $this->streamed($this->renderer()->stream($plan));
        self::assertGreaterThan($plan->frames, $sound->frames());
        self::assertSame(0.0, $sound->slice($sound->frames() - 1000, 1000)->peak());
        $again = $this->streamed($this->renderer()->stream($plan));
        self::assertSameSound($sound, $again);
    }

    /** To the bit; PHPUnit's own comparison takes minutes over so many numbers. */
    private static function assertSameSound(StereoBlock $expected, StereoBlock $actual): void
    {
        self::assertTrue($expected->left === $actual->left && $expected->right === $actual->right, 'the sound differs');
    }

    /** One kit and a pattern, or for a seed below zero several parts and sections. */
    private static function beat(int $seed): Beat
    {
        return $seed < 0 ? self::$beats->felt(-$seed) : self::$beats->beat($seed);
    }

    private function loop(Beat $beat): Plan
    {
        return Plan::loop($beat, 's1', self::$sounds);
    }

    private function song(Beat $beat): Plan
    {
        return Plan::song($beat, 1 === \count($beat->song) ? [new Entry('', 'p1', 2)] : Passage::song($beat), self::$sounds);
    }

    private static function sounds(int $mostFrames): PadSounds
    {
        return new PadSounds(new SampleLibrary(self::$beats->folder), Beat::SAMPLE_RATE, $mostFrames);
    }

    private function renderer(?SegmentCache $cache = null): Renderer
    {
        return new Renderer(self::$sounds, $cache ?? SegmentCache::none());
    }

    /** @param iterable<\Pestle\Core\Render\Moment> $moments */
    private function streamed(iterable $moments): StereoBlock
    {
        $whole = StereoBlock::silence(0);
        foreach ($moments as $moment) {
            $whole = $whole->append($moment->mix->block());
        }

        return $whole;
    }

    /** @param iterable<\Pestle\Core\Render\Moment|null> $moments of those with one index the last counts */
    private function packed(iterable $moments): string
    {
        $all = [];
        foreach (array_filter(iterator_to_array($moments, false)) as $moment) {
            $all[$moment->segment->index] = $moment->mix->packed() ?: str_repeat("\0", 8 * $moment->segment->frames);
        }
        ksort($all);

        return hash('sha256', implode('', $all));
    }
}
