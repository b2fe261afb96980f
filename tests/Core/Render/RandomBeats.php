<?php

namespace Pestle\Tests\Core\Render;

use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Mix\InsertKind;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Song\Entry;
use Pestle\Core\Song\Movements;
use Pestle\Core\Theory\Tempo;
use Pestle\Tests\Core\Sounds;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;

/** Beats made by chance from a seed, with samples of several kinds: what the properties of the renderer are tried on. */
final class RandomBeats
{
    /** @var list<array{hash: string, frames: int, rate: int}> */
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
            $this->samples[] = ['hash' => Sounds::put($folder, $block, $rate, $format), 'frames' => $block->frames(), 'rate' => $rate];
        }
    }

    public function beat(int $seed): Beat
    {
        $chance = new Randomizer(new Xoshiro256StarStar($seed));
        $beat = Beat::empty('Random '.$seed);
        $changes = [['type' => 'set-tempo', 'bpm' => $chance->getInt(90, 190)], ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 1], ['type' => 'set-feel', 'patterns' => ['p1'], 'swing' => $chance->getInt(50, 70)]];
        $pads = $chance->getInt(2, 5);
        for ($p = 0; $p < $pads; ++$p) {
            $sample = $this->samples[$chance->getInt(0, 3)];
            $start = 0 === $chance->getInt(0, 1) ? 0 : $chance->getInt(200, 900);
            $changes[] = ['type' => 'fill-pad', 'pad' => 'a'.$p, 'sample' => $sample['hash'], 'name' => 'Pad '.$p, 'role' => ['kick', 'snare', 'tonal', 'hat'][$p % 4], 'start' => $start, 'end' => $chance->getInt($start + 500, $sample['frames'])];
            $changes[] = ['type' => 'set-pad', 'pad' => 'a'.$p, 'tuneCents' => [0, 0, 300, -700][$chance->getInt(0, 3)], 'levelDb' => $chance->getInt(-9, 6), 'pan' => $chance->getInt(-4, 4) / 4, 'choke' => $chance->getInt(0, 2), 'mode' => ['one-shot', 'held'][$chance->getInt(0, 1)]];
            $changes[] = ['type' => 'set-layer', 'pad' => 'a'.$p, 'reversed' => (int) (0 === $chance->getInt(0, 3))];
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
        foreach (range(0, $pads - 1) as $p) {
            array_push($changes, ...self::treated('kit/a'.$p, $chance));
            $changes[] = ['type' => 'set', 'under' => 'kit/a'.$p, 'voices' => $chance->getInt(1, 3), 'strength' => $chance->getInt(0, 4) / 2];
        }
        $changes[] = ['type' => 'set-pad', 'pad' => 'a1', 'answer' => ['all', 'strength', 'turn', 'chance', 'fresh'][$chance->getInt(0, 4)], 'crossfade' => $chance->getInt(0, 1) * 30, 'along' => ['a0']];
        $changes[] = ['type' => 'set', 'under' => 'kit/a1/layers/1', 'levelDb' => -3, 'pan' => 0.5, 'tuneCents' => 200, 'delayMs' => $chance->getInt(0, 1) * 15];
        $changes[] = ['type' => 'set-pad', 'pad' => 'a0', 'silences' => ['a1']];
        // Two pads on one channel, so that its stems must be told apart.
        $changes[] = ['type' => 'set-pad', 'pad' => 'a1', 'channel' => 'c1'];
        $hits = [];
        for ($h = 0; $h < 12; ++$h) {
            $hits[] = [$chance->getInt(0, 3839), 'a'.$chance->getInt(0, $pads - 1), $chance->getInt(1, 127), $chance->getInt(30, 2000), $chance->getInt(0, 3) > 0 ? 100 : 50];
        }
        $changes[] = ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => $hits];
        $beat = self::changed($beat, $changes);
        $more = [['type' => 'set', 'under' => 'mixer/drums/inserts/i1', 'on' => 1, 'thresholdDb' => -24, 'ratio' => 3, 'attackMs' => 2, 'releaseMs' => 60, 'makeupDb' => 4], ['type' => 'set', 'under' => 'mixer/master', 'gainDb' => $chance->getInt(0, 12)]];
        foreach (array_keys($beat->mixer->of(NodeKind::Channel)) as $id) {
            $more[] = ['type' => 'set', 'under' => 'mixer/'.$id, 'gainDb' => $chance->getInt(-12, 3), 'pan' => $chance->getInt(-3, 3) / 3];
            $more[] = ['type' => 'set', 'under' => 'mixer/'.$id.'/inserts/i1/bands/'.$chance->getInt(1, 4), 'shape' => ['peak', 'low-shelf', 'high-pass'][$chance->getInt(0, 2)], 'hz' => $chance->getInt(60, 6000), 'gainDb' => $chance->getInt(-9, 9), 'q' => 0.9, 'on' => 1];
            $more[] = ['type' => 'set', 'under' => 'mixer/'.$id.'/inserts/i1/bands/'.$chance->getInt(1, 4), 'shape' => 'peak', 'hz' => $chance->getInt(60, 6000), 'gainDb' => $chance->getInt(-9, 9), 'q' => 2, 'on' => $chance->getInt(0, 1)];
            $more[] = ['type' => 'set', 'under' => 'mixer/'.$id.'/inserts/i2', 'on' => $chance->getInt(0, 1), 'thresholdDb' => -30, 'ratio' => 4, 'attackMs' => 1, 'releaseMs' => 50, 'makeupDb' => 0];
        }

        $beat = self::changed($beat, $more);

        return 3 === $seed ? self::routed($beat, $chance) : $beat;
    }

    /**
     * Shape, tone and movement by chance; most sounds have little of it.
     *
     * @return list<array<string, mixed>>
     */
    private static function treated(string $under, Randomizer $chance): array
    {
        $some = [
            ['amp/attackMs' => $chance->getInt(0, 30), 'amp/decayMs' => $chance->getInt(10, 300), 'amp/sustain' => $chance->getInt(0, 4) / 5, 'amp/releaseMs' => $chance->getInt(0, 1) * 120],
            ['filter/shape' => ['low-pass', 'high-pass', 'band-pass', 'notch'][$chance->getInt(0, 3)], 'filter/steep' => $chance->getInt(0, 1), 'filter/cutoffHz' => $chance->getInt(80, 8000), 'filter/resonance' => $chance->getInt(0, 8) / 10, 'filter/driveDb' => $chance->getInt(0, 1) * 12, 'filter/envelopeCents' => $chance->getInt(-1, 1) * 2400, 'filter/strengthCents' => $chance->getInt(0, 1) * 1200],
            ['pitch/cents' => $chance->getInt(-1, 1) * 1900, 'pitch/decayMs' => $chance->getInt(5, 90)],
            ['lfo1/target' => ['level', 'pan', 'pitch', 'cut-off'][$chance->getInt(0, 3)], 'lfo1/shape' => ['sine', 'square', 'steps', 'rising'][$chance->getInt(0, 3)], 'lfo1/ticks' => $chance->getInt(0, 1) * 240, 'lfo1/depth' => $chance->getInt(5, 90)],
        ];
        $chosen = $chance->shuffleArray($some);

        return array_map(static fn (array $set): array => ['type' => 'set', 'under' => $under, ...$set], \array_slice($chosen, 0, $chance->getInt(0, 2)));
    }

    /** Groups in groups, returns before and after the fader, inserts in another order, steering, and settings that move over the song. */
    private static function routed(Beat $beat, Randomizer $chance): Beat
    {
        $channels = array_map(strval(...), array_keys($beat->mixer->of(NodeKind::Channel)));
        $second = $channels[1];
        $changes = [
            ['type' => 'add-node', 'kind' => 'return', 'id' => 'r1', 'name' => 'Squeezed', 'from' => 'c1'],
            ['type' => 'add-node', 'kind' => 'return', 'id' => 'r2', 'name' => 'Through', 'from' => 'r1'],
            ['type' => 'add-node', 'kind' => 'group', 'id' => 'g1', 'name' => 'All', 'from' => 'drums'],
            ['type' => 'set-node', 'node' => $second, 'output' => 'g1'],
            ['type' => 'add-insert', 'node' => 'r1', 'kind' => 'compressor'],
            ['type' => 'set', 'under' => 'mixer/r1', 'inserts/i1/thresholdDb' => -40, 'inserts/i1/makeupDb' => 8, 'pan' => -0.4],
            ['type' => 'add-insert', 'node' => 'g1', 'kind' => 'equalizer'],
            ['type' => 'set', 'under' => 'mixer/g1/inserts', 'i2/bands/4/on' => 1, 'i2/bands/4/gainDb' => -6, 'i2/bands/2/on' => 1, 'i2/bands/2/gainDb' => 5, 'i1/on' => 1, 'i1/thresholdDb' => -25],
            ['type' => 'set-insert', 'node' => 'g1', 'insert' => 'i2', 'place' => $chance->getInt(0, 1)],
            ['type' => 'add-send', 'node' => $second, 'to' => 'r2'],
            ['type' => 'set', 'under' => 'mixer/'.$second.'/sends/r2', 'gainDb' => $chance->getInt(-9, 0), 'beforeFader' => $chance->getInt(0, 1)],
            ['type' => 'set', 'under' => 'mixer/'.$second.'/inserts/i2', 'on' => 1, 'thresholdDb' => -35, 'ratio' => 8],
            ['type' => 'set-insert', 'node' => $second, 'insert' => 'i2', 'key' => 'c1'],
            ['type' => 'set-insert', 'node' => 'master', 'insert' => 'i1', 'key' => $second],
            ['type' => 'set', 'under' => 'mixer/master/inserts/i1', 'on' => 1, 'thresholdDb' => -30],
            // What steers may itself be silent.
            ['type' => 'set', 'under' => 'mixer', ($channels[2] ?? 'c1').'/mute' => $chance->getInt(0, 1), 'c1/mute' => $chance->getInt(0, 1)],
        ];
        // Inserts of any kind on a return, groups, a channel and the master; one of them moves.
        $kinds = InsertKind::cases();
        foreach (['r2', 'drums', 'g1', $second, 'master'] as $line) {
            $changes[] = ['type' => 'add-insert', 'node' => $line, 'kind' => $kinds[$chance->getInt(2, \count($kinds) - 1)]->value];
        }
        array_push($changes, ['type' => 'add-insert', 'node' => 'r2', 'kind' => 'saturation'], ['type' => 'add-insert', 'node' => 'c1', 'kind' => 'delay'], ['type' => 'set', 'under' => 'mixer/c1/inserts/i3', 'sixteenths' => 1, 'feedback' => 15]);
        // Some look ahead, some are heard in part.
        if ($chance->getInt(0, 2) > 0) {
            array_push(
                $changes,
                ['type' => 'set', 'under' => 'mixer/r1/inserts/i1', 'on' => 1, 'aheadMs' => $chance->getInt(1, 9), 'mix' => $chance->getInt(20, 90)],
                ['type' => 'set', 'under' => 'mixer/'.$second.'/inserts/i2', 'aheadMs' => $chance->getInt(0, 4), 'detector' => ['peak', 'rms'][$chance->getInt(0, 1)], 'auto' => $chance->getInt(0, 1), 'aboveHz' => $chance->getInt(20, 300)],
                ['type' => 'add-insert', 'node' => ['drums', 'c1', 'r1'][$chance->getInt(0, 2)], 'kind' => 'limiter'],
                ['type' => 'set', 'under' => 'mixer/g1/inserts/i2', 'mix' => $chance->getInt(20, 90)],
            );
        }
        $curves = ['mixer/r2/inserts/i2/driveDb' => [0, 30], 'mixer/'.$second.'/gainDb' => [-20, 6], 'mixer/'.$second.'/pan' => [-1, 1], 'mixer/c1/sends/r1/gainDb' => [-30, 0], 'mixer/g1/inserts/i2/bands/2/hz' => [80, 4000], 'mixer/r1/inserts/i1/thresholdDb' => [-50, -5], 'mixer/master/gainDb' => [-6, 6]];
        foreach ($chance->pickArrayKeys($curves, 3) as $path) {
            [$least, $most] = $curves[$path];
            $points = [];
            for ($tick = $chance->getInt(0, 500), $n = $chance->getInt(1, 5); $n > 0; --$n, $tick += $chance->getInt(0, 4000)) {
                $points[] = [$tick, $chance->getInt($least, $most), [0, 0, 0.4, -0.7, 1][$chance->getInt(0, 4)]];
            }
            // What belongs to a section or pattern is heard there in place of what moves over the song.
            $inside = [[], ['scope' => 'section', 'of' => 's1'], ['scope' => 'pattern', 'of' => 'p1']][$chance->getInt(0, 2)];
            $changes[] = ['type' => 'set-movement', 'path' => $path, 'points' => $points, 'smoothMs' => [5, 5, 40, 150][$chance->getInt(0, 3)], ...$inside];
            if ([] !== $inside && 0 === $chance->getInt(0, 1)) {
                $changes[] = ['type' => 'set-movement', 'path' => $path, 'points' => \array_slice($points, 0, 1)];
            }
        }
        $beat = self::changed($beat, $changes);
        // Short rooms, as all of them are rendered time and again.
        $short = [];
        foreach ([...$beat->mixer->nodes, 'master' => $beat->mixer->master] as $id => $line) {
            foreach ($line->inserts as $insert) {
                if (InsertKind::Reverb === $insert->kind()) {
                    $short[] = ['type' => 'set', 'under' => 'mixer/'.$id.'/inserts/'.$insert->id(), 'decay' => 0.3];
                }
            }
        }

        return self::changed($beat, $short);
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
            $changes[] = ['type' => 'set-keys', 'part' => $part, 'single' => $i, 'held' => $chance->getInt(0, 1), 'glideMs' => $chance->getInt(0, 120), ...1 === $chance->getInt(0, 1) ? ['loopStart' => $start + 100, 'loopEnd' => $start + 400] : []];
            $changes[] = ['type' => 'set', 'under' => 'part/'.$part, 'amp/releaseMs' => $chance->getInt(0, 300), 'amp/releaseBend' => $i / 2];
            array_push($changes, ...self::treated('part/'.$part, $chance));
        }
        $beat = self::changed($this->beat(10 * $seed), $changes);
        // Songs of several sections are rendered time and again: fast ones say as much in less time.
        $beat = self::changed($beat, [['type' => 'set-tempo', 'bpm' => min(Tempo::MAX, 1.5 * $beat->tempo->bpm)]]);
        $changes = [];
        foreach ($beat->patterns as $pattern) {
            $changes[] = ['type' => 'set-pattern', 'pattern' => $pattern->id, 'bars' => $chance->getInt(1, 2)];
            $changes[] = ['type' => 'set-feel', 'patterns' => [$pattern->id], 'swing' => $chance->getInt(50, 66)];
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
            ['type' => 'set', 'song/e2/repeats' => 2],
            ['type' => 'set-cell', 'section' => 's2', 'part' => 'part-'.$chance->getInt(1, 4), 'mute' => 1],
            ['type' => 'set-cell', 'section' => 's1', 'part' => 'part-'.$chance->getInt(1, 4), 'pattern' => ''],
            ['type' => 'add-section', 'id' => 's3', 'name' => 'Empty'],
            ['type' => 'set-song', 'sections' => ['s1', 's3', 's2', 's1']],
            ['type' => 'set', 'song/e4/repeats' => $chance->getInt(1, 2)],
            ['type' => 'set-cell', 'section' => 's1', 'part' => 'part-'.$chance->getInt(1, 4), 'entry' => 'e4', 'mute' => 1],
        );

        return $this->laid(self::routed(self::changed($beat, $changes), $chance), $seed);
    }

    /** With sounds on two tracks of its song: cropped, faded, turned, pitched, in time, over one another and behind the end. */
    private function laid(Beat $beat, int $seed): Beat
    {
        $chance = new Randomizer(new Xoshiro256StarStar(5000 + $seed));
        $end = array_sum(array_map(static fn (Entry $e): int => $e->repeats * $beat->section($e->section)->lengthTicks($beat->patterns), $beat->song));
        $changes = [];
        for ($k = 1; $k <= 6; ++$k) {
            $sample = $this->samples[$chance->getInt(0, 3)];
            $frames = ($beat->edits[$sample['hash']] ?? new Edits())->length($sample['frames']);
            $from = 0 === $chance->getInt(0, 1) ? 0 : $chance->getInt(1, intdiv($frames, 3));
            $changes[] = [
                'type' => 'add-clip', 'id' => 'k'.$k, 'track' => 'track-'.$chance->getInt(1, 2), 'name' => 'Clip '.$k, 'sample' => $sample['hash'], 'rate' => $sample['rate'],
                'at' => 6 === $k ? $end + 200 : $chance->getInt(0, max(1, $end - 1)), 'from' => $from, 'to' => $chance->getInt($from + 300, $frames), 'levelDb' => $chance->getInt(-9, 3),
                'fadeInMs' => $chance->getInt(-100, 300) < 0 ? 0 : $chance->getInt(1, 300), 'fadeOutMs' => $chance->getInt(-100, 300) < 0 ? 0 : $chance->getInt(1, 300), 'fadeOutShape' => ['straight', 'slow', 'fast', 's'][$chance->getInt(0, 3)],
                'reversed' => (int) (0 === $chance->getInt(0, 2)), 'pitchCents' => 0 === $chance->getInt(0, 11) ? 300 : 0, 'bpm' => 0 === $chance->getInt(0, 11) ? 120 : 0, 'muted' => (int) (0 === $chance->getInt(0, 5)),
                ...0 === $chance->getInt(0, 9) ? ['roomSeconds' => 0.4, 'roomBefore' => $chance->getInt(0, 1)] : [],
            ];
        }

        // Pads and instruments move, at each strike and on from there.
        foreach (['kit/a1/levelDb' => [-20, 6], 'kit/a0/filter/cutoffHz' => [200, 9000], 'kit/b0/pan' => [-1, 1], 'kit/b1/tuneCents' => [-900, 900], 'part/part-3/levelDb' => [-20, 0], 'part/part-4/filter/resonance' => [0, 1]] as $path => [$least, $most]) {
            $where = [[], ['scope' => 'section', 'of' => 's1'], ['scope' => 'pattern', 'of' => 'p1']][$chance->getInt(0, 2)];
            $changes[] = ['type' => 'set-movement', 'path' => $path, ...$where, 'points' => array_map(static fn (int $k): array => [$k * 900 + $chance->getInt(0, 800), $chance->getInt(100 * $least, 100 * $most) / 100, [0, 1, -0.4][$k]], range(0, 2))];
        }
        // One instrument is made of waves, beside its recorded note or without it.
        $waves = [
            ['kind' => ['saw', 'pulse', 'triangle'][$chance->getInt(0, 2)], 'voices' => $chance->getInt(1, 5), 'spread' => $chance->getInt(0, 100)], ['kind' => 'sine', 'acts' => ['bends', 'multiplies', 'restarts'][$chance->getInt(0, 2)], 'times' => $chance->getInt(1, 3), 'depth' => 0.8, 'strength' => 0.5, 'decayMs' => 200],
            ['kind' => ['noise', 'string', 'skin'][$chance->getInt(0, 2)], 'levelDb' => -12, 'decayMs' => 150, 'delayMs' => $chance->getInt(0, 60)],
        ];
        $changes[] = 0 === $chance->getInt(0, 1) ? ['type' => 'set-sound', 'part' => 'part-4', 'waves' => $waves] : ['type' => 'set-sound', 'part' => 'part-4', 'sound' => ['channel' => 'none', 'waves' => $waves, 'zones' => [], 'single' => true, 'legato' => true, 'glideMs' => 30, 'treatment' => ['amp' => ['attackMs' => 4, 'releaseMs' => 90], 'filter' => ['shape' => 'low-pass', 'cutoffHz' => 900, 'envelopeCents' => 2400]]]];
        // One has others stacked on it, over some of its keys and strengths, of which the notes move something.
        $changes[] = ['type' => 'stack-sound', 'part' => 'part-3', 'sound' => ['channel' => 'none', 'waves' => [['kind' => 'saw', 'voices' => 2], ['kind' => 'pulse', 'width' => 30]], 'zones' => [], 'treatment' => [
            'amp' => ['delayMs' => $chance->getInt(0, 1) * 40, 'attackMs' => 3, 'releaseMs' => 150],
            'filter' => ['shape' => ['vowel', 'low-pass'][$chance->getInt(0, 1)], 'cutoffHz' => 700, 'resonance' => 0.3, 'envelopeCents' => 1800, 'sustain' => 0.6, 'releaseMs' => $chance->getInt(0, 1) * 120],
            'lfo1' => ['target' => 'cut-off', 'depth' => 600, 'hz' => 3, 'common' => 1 === $chance->getInt(0, 1), 'fadeMs' => 90], 'env' => ['target' => ['pitch', 'cut-off', 'level', 'pan'][$chance->getInt(0, 3)], 'depth' => 50, 'delayMs' => 20, 'attackMs' => 30, 'decayMs' => 80, 'sustain' => 0.4, 'releaseMs' => 70],
        ], 'routes' => [['by' => 'chance', 'to' => 'waves/1/width', 'amount' => 0.3], ['by' => 'strength', 'to' => 'filter/cutoffHz', 'amount' => -0.2], ['by' => 'step', 'to' => 'env/depth', 'amount' => 0.1], ['by' => 'key', 'to' => 'waves/9/width', 'amount' => 1]]], 'name' => 'Over it'];
        $changes[] = ['type' => 'stack-sound', 'part' => 'part-3', 'of' => 'part-4'];
        $changes[] = ['type' => 'set', 'under' => 'part/part-3/stack', '0/low' => $chance->getInt(30, 60), '0/blend/fadeKeys' => $chance->getInt(0, 1) * 12, '0/blend/weakest' => $chance->getInt(1, 60), '0/blend/fadeStrengths' => $chance->getInt(0, 1) * 20, '0/blend/delayMs' => $chance->getInt(0, 30), '0/levelDb' => -18, '1/blend/silent' => $chance->getInt(0, 1), '1/levelDb' => -9];
        // The tempo moves in most of them: suddenly, gradually, in one of its sections.
        if (0 !== $seed % 3) {
            $changes[] = ['type' => 'set-movement', 'path' => 'tempo', 'points' => array_map(static fn (int $k): array => [$k * 1500 + $chance->getInt(0, 1400), $chance->getInt(70, 145), [0, 1, -1, 0.5, 0][$k]], range(0, 4))];
            $changes[] = ['type' => 'set-movement', 'path' => 'tempo', 'scope' => 'section', 'of' => 's2', 'points' => [[0, $chance->getInt(80, 145), 0], [$chance->getInt(500, 3000), $chance->getInt(80, 145), 0]], 'on' => $chance->getInt(0, 1)];
        }

        return self::changed($beat, $changes);
    }

    /** The same with every pattern felt in some way, lanes that go round by themselves, hits of several strikes, and legato. */
    public function felt(int $seed): Beat
    {
        $chance = new Randomizer(new Xoshiro256StarStar(3000 + $seed));
        $beat = $this->parts($seed);
        $changes = [['type' => 'set', 'under' => 'part/part-4', 'single' => 1, 'legato' => 1]];
        foreach ($beat->patterns as $pattern) {
            $feel = [
                'quantise' => [0, 60, 100][$chance->getInt(0, 2)], 'grid' => [160, 240, 480][$chance->getInt(0, 2)], 'window' => $chance->getInt(50, 100), 'ends' => $chance->getInt(0, 1),
                'swing' => $chance->getInt(50, 66), 'swingOn' => ['eighths', 'sixteenths'][$chance->getInt(0, 1)], 'shiftTicks' => $chance->getInt(-60, 60), 'shiftMs' => $chance->getInt(-20, 20), 'timingMs' => $chance->getInt(0, 12),
                'spread' => $chance->getInt(0, 150), 'scatter' => ['none', 'around', 'between'][$chance->getInt(0, 2)], 'groove' => ['', 'cobbles', 'late-cart'][$chance->getInt(0, 2)],
            ];
            $changes[] = ['type' => 'set-feel', 'patterns' => [$pattern->id], ...$feel];
            foreach ($pattern->hits as $i => $hit) {
                if (0 === $i % 4) {
                    $changes[] = ['type' => 'edit-hits', 'pattern' => $pattern->id, 'hits' => [[$hit->tick, $hit->pad, $hit->velocity, $hit->length, $hit->chance, 0, 0, '', $chance->getInt(1, 4)]], 'take' => [[$hit->tick, $hit->pad]]];
                }
            }
            if ([] !== $pattern->hits) {
                $changes[] = ['type' => 'set-lane', 'pattern' => $pattern->id, 'lane' => $pattern->hits[0]->pad, 'ticks' => $chance->getInt(400, 1500), 'ownFeel' => $chance->getInt(0, 1)];
            }
        }

        return self::changed($beat, $changes);
    }

    /** Without inserts: where the mixer is not what is tried. */
    public static function dry(Beat $beat): Beat
    {
        $mixer = $beat->mixer;
        foreach ([...array_values($mixer->nodes), $mixer->master] as $line) {
            $mixer = $mixer->withLine($line->with(['inserts' => []]));
        }

        return $beat->with(['mixer' => $mixer, 'movements' => new Movements()]);
    }

    /** @param list<array<string, mixed>> $changes */
    public static function changed(Beat $beat, array $changes): Beat
    {
        foreach ($changes as $change) {
            $beat = Changes::apply(Changes::read($change), $beat);
        }

        return $beat;
    }
}
