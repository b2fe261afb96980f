<?php

namespace Pestle\Tests\Core\Render;

use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Changes;
use Pestle\Tests\Core\Sounds;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;

/** Beats made by chance from a seed, with samples of several kinds: what the properties of the renderer are tried on. */
final class RandomBeats
{
    /** @var list<array{hash: string, frames: int}> */
    private array $samples = [];

    public function __construct(public readonly string $folder)
    {
        $tone = Sounds::sine(220, 30000, 44100, 0.6);
        $kinds = [
            [Sounds::hit(1, 9000), 44100, SampleFormat::Int24],
            [Sounds::hit(2, 3000), 48000, SampleFormat::Int16],
            [new StereoBlock($tone, $tone), 44100, SampleFormat::Float32],
            [Sounds::hit(3, 60000), 44100, SampleFormat::Int16],
        ];
        foreach ($kinds as [$block, $rate, $format]) {
            $this->samples[] = ['hash' => Sounds::put($folder, $block, $rate, $format), 'frames' => $block->frames()];
        }
    }

    public function beat(int $seed): Beat
    {
        $chance = new Randomizer(new Xoshiro256StarStar($seed));
        $beat = Beat::empty('Random '.$seed);
        $changes = [['type' => 'set-tempo', 'bpm' => $chance->getInt(90, 190)], ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 1], ['type' => 'set-pattern', 'pattern' => 'p1', 'swing' => $chance->getInt(50, 70)]];
        $pads = $chance->getInt(2, 5);
        for ($p = 0; $p < $pads; ++$p) {
            $sample = $this->samples[$chance->getInt(0, 3)];
            $start = 0 === $chance->getInt(0, 1) ? 0 : $chance->getInt(200, 900);
            $changes[] = ['type' => 'fill-pad', 'pad' => 'a'.$p, 'sample' => $sample['hash'], 'name' => 'Pad '.$p, 'role' => ['kick', 'snare', 'tonal', 'hat'][$p % 4], 'start' => $start, 'end' => $chance->getInt($start + 500, $sample['frames'])];
            $changes[] = ['type' => 'set-pad', 'pad' => 'a'.$p, 'tuneCents' => [0, 0, 300, -700][$chance->getInt(0, 3)], 'levelDb' => $chance->getInt(-9, 6), 'pan' => $chance->getInt(-4, 4) / 4, 'choke' => $chance->getInt(0, 2), 'mode' => ['one-shot', 'held'][$chance->getInt(0, 1)], 'reversed' => (int) (0 === $chance->getInt(0, 3))];
        }
        // Some samples are edited: turned round in part, stretched, coarse, faded.
        foreach ($this->samples as $i => $sample) {
            $list = [
                ['kind' => 'reverse', 'from' => 100, 'to' => $chance->getInt(900, 2500)],
                ['kind' => 'stretch', 'percent' => $chance->getInt(70, 140), 'material' => ['hits', 'tones'][$chance->getInt(0, 1)]],
                ['kind' => 'converter', 'bits' => $chance->getInt(5, 14), 'rate' => $chance->getInt(6000, 30000), 'filters' => $chance->getInt(0, 1)],
                ['kind' => 'fade-in', 'shape' => 's', 'from' => 0, 'to' => 400],
                ['kind' => 'gain', 'db' => $chance->getInt(-9, 3), 'on' => $chance->getInt(0, 1)],
            ];
            $count = $chance->getInt(-1, 3);
            if ($count > 0) {
                $changes[] = ['type' => 'set-edits', 'sample' => $sample['hash'], 'frames' => $sample['frames'], 'edits' => \array_slice($chance->shuffleArray($list), 0, $count)];
            }
        }
        // One pad holds more than one sound.
        $changes[] = ['type' => 'land-sounds', 'pad' => 'a1', 'how' => ['stack', 'strength'][$chance->getInt(0, 1)], 'sounds' => array_map(static fn (array $s, int $i): array => ['sample' => $s['hash'], 'name' => 'Layer', 'frames' => $s['frames'], 'role' => 'snare', 'peakDb' => -$i], \array_slice($this->samples, 0, 2), [0, 1])];
        // Two pads on one channel, so that its stems must be told apart.
        $changes[] = ['type' => 'set-pad', 'pad' => 'a1', 'channel' => 'c1'];
        $hits = [];
        for ($h = 0; $h < 12; ++$h) {
            $hits[] = [$chance->getInt(0, 3839), 'a'.$chance->getInt(0, $pads - 1), $chance->getInt(1, 127), $chance->getInt(30, 2000), $chance->getInt(0, 3) > 0 ? 100 : 50];
        }
        $changes[] = ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => $hits];
        $beat = self::changed($beat, $changes);
        $more = [['type' => 'set-compressor', 'target' => 'drums', 'on' => 1, 'thresholdDb' => -24, 'ratio' => 3, 'attackMs' => 2, 'releaseMs' => 60, 'makeupDb' => 4], ['type' => 'set-master', 'gainDb' => $chance->getInt(0, 12)]];
        foreach (array_keys($beat->mixer->channels) as $id) {
            $more[] = ['type' => 'set-channel', 'channel' => $id, 'gainDb' => $chance->getInt(-12, 3), 'pan' => $chance->getInt(-3, 3) / 3];
            $more[] = ['type' => 'set-eq-band', 'channel' => $id, 'band' => $chance->getInt(1, 4), 'shape' => ['peak', 'low-shelf', 'high-pass'][$chance->getInt(0, 2)], 'hz' => $chance->getInt(60, 6000), 'gainDb' => $chance->getInt(-9, 9), 'q' => 0.9, 'on' => 1];
            $more[] = ['type' => 'set-eq-band', 'channel' => $id, 'band' => $chance->getInt(1, 4), 'shape' => 'peak', 'hz' => $chance->getInt(60, 6000), 'gainDb' => $chance->getInt(-9, 9), 'q' => 2, 'on' => $chance->getInt(0, 1)];
            $more[] = ['type' => 'set-compressor', 'target' => $id, 'on' => $chance->getInt(0, 1), 'thresholdDb' => -30, 'ratio' => 4, 'attackMs' => 1, 'releaseMs' => 50, 'makeupDb' => 0];
        }

        return self::changed($beat, $more);
    }

    /** Several parts with patterns of unequal lengths, in sections that wrap, are cut off, muted in part or of another meter. */
    public function parts(int $seed): Beat
    {
        $chance = new Randomizer(new Xoshiro256StarStar(1000 + $seed));
        $changes = [['type' => 'set-meter', 'meter' => ['3/4', '4/4', '5/8', '7/16'][$chance->getInt(0, 3)]], ['type' => 'add-part', 'id' => 'part-2', 'name' => 'Second kit', 'section' => 's1']];
        foreach ([0, 1] as $p) {
            $sample = $this->samples[$chance->getInt(0, 3)];
            $changes[] = ['type' => 'fill-pad', 'pad' => 'b'.$p, 'sample' => $sample['hash'], 'name' => 'Other '.$p, 'role' => ['percussion', 'tonal'][$p], 'start' => 0, 'end' => $chance->getInt(900, $sample['frames'])];
            $changes[] = ['type' => 'set-pad', 'pad' => 'b'.$p, 'choke' => $chance->getInt(0, 1), 'mode' => ['one-shot', 'held'][$chance->getInt(0, 1)]];
        }
        foreach (['part-3', 'part-4'] as $i => $part) {
            $sample = $this->samples[$chance->getInt(0, 3)];
            $start = $chance->getInt(0, 400);
            $changes[] = ['type' => 'add-part', 'id' => $part, 'name' => 'Keys '.$i, 'sample' => $sample['hash'], 'start' => $start, 'end' => $chance->getInt($start + 500, $sample['frames']), 'rootCents' => $chance->getInt(4500, 7200), 'section' => 's1'];
            $changes[] = ['type' => 'set-keys', 'part' => $part, 'single' => $i, 'held' => $chance->getInt(0, 1), 'releaseMs' => $chance->getInt(0, 300), 'glideMs' => $chance->getInt(0, 120), ...1 === $chance->getInt(0, 1) ? ['loopStart' => $start + 100, 'loopEnd' => $start + 400] : []];
        }
        $beat = self::changed($this->beat($seed), $changes);
        $changes = [];
        foreach ($beat->patterns as $pattern) {
            $changes[] = ['type' => 'set-pattern', 'pattern' => $pattern->id, 'bars' => $chance->getInt(1, 2)];
            $changes[] = ['type' => 'set-pattern', 'pattern' => $pattern->id, 'swing' => $chance->getInt(50, 66)];
            $notes = $hits = [];
            for ($n = 0; $n < 6; ++$n) {
                $hits[] = [$chance->getInt(0, 1600), 'b'.$chance->getInt(0, 1), $chance->getInt(1, 127), $chance->getInt(60, 900), [100, 60][$chance->getInt(0, 1)]];
                $notes[] = [$chance->getInt(0, 1600), $chance->getInt(45, 75), $chance->getInt(1, 127), $chance->getInt(60, 1500), [100, 70][$chance->getInt(0, 1)]];
            }
            if ('part-2' === $pattern->part) {
                $changes[] = ['type' => 'edit-hits', 'pattern' => $pattern->id, 'hits' => $hits];
            } elseif ('part-1' !== $pattern->part) {
                $changes[] = ['type' => 'edit-notes', 'pattern' => $pattern->id, 'notes' => $notes];
            }
        }
        array_push(
            $changes,
            ['type' => 'add-section', 'id' => 's2', 'name' => 'Copy', 'copyOf' => 's1'],
            ['type' => 'set-section', 'section' => 's2', 'bars' => $chance->getInt(1, 3)],
            ['type' => 'set-section', 'section' => 's2', 'meter' => '3/4'],
            ['type' => 'set-section', 'section' => 's2', 'repeats' => 2],
            ['type' => 'set-cell', 'section' => 's2', 'part' => 'part-'.$chance->getInt(1, 4), 'mute' => 1],
            ['type' => 'set-cell', 'section' => 's1', 'part' => 'part-'.$chance->getInt(1, 4), 'pattern' => ''],
            ['type' => 'add-section', 'id' => 's3', 'name' => 'Empty'],
            ['type' => 'set-song', 'sections' => ['s1', 's3', 's2', 's1']],
        );

        return self::changed($beat, $changes);
    }

    /** @param list<array<string, mixed>> $changes */
    public static function changed(Beat $beat, array $changes): Beat
    {
        foreach ($changes as $change) {
            $beat = Changes::read($change)->apply($beat);
        }

        return $beat;
    }
}
