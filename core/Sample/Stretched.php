<?php

namespace Pestle\Core\Sample;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\PcmDecoder;
use Pestle\Core\Audio\PcmEncoder;
use Pestle\Core\Audio\Reading;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Continuation;
use Pestle\Core\Signal\Window;

/**
 * A source made longer or shorter with its pitch kept. It is worked out as far as it is read and kept in a temporary
 * file, so memory does not grow with its length; among hits, from the one before the place that is read.
 *
 * Hits are taken one by one: each starts on its new place exactly as it was, and only what follows its attack is
 * stretched. (Phases restarted at attacks: A. Röbel, "A new approach to transient processing in the phase
 * vocoder", DAFx 2003. Here nothing before an attack has heard of it, so it can't be smeared ahead.)
 */
final class Stretched implements AudioSource
{
    private const TONE_SECONDS = 0.093;
    private const HIT_SECONDS = 0.0465;
    /** How much of a hit is kept as it was. */
    private const ATTACK_SECONDS = 0.045;
    /** A hit's part starts this much before it. */
    private const LEAD_SECONDS = 0.007;
    /** Over how long one part goes over into the next, before the hit. */
    private const FADE_SECONDS = 0.006;

    private readonly int $frames;
    /** @var resource interleaved 32-bit floats */
    private $stream;
    /**
     * Stretches of the source that are worked out each on their own: frames of the source from and to, of the result from
     * and to, and over how many the end goes on under the next.
     *
     * @var non-empty-list<array{int, int, int, int, int}>
     */
    private readonly array $parts;
    /** @var array<int, \Generator<StereoBlock>> work on a part that was begun */
    private array $work = [];
    /** @var array<int, int> first frame of the result that a part does not have yet */
    private array $made = [];
    /** @var array<int, array{list<float>, list<float>}> what a finished part leaves over */
    private array $tails = [];

    /**
     * @param StretchMap $map     where its frames come to lie
     * @param list<int>  $attacks frames of the source at which hits begin, ascending; only asked for hits
     */
    public function __construct(private readonly AudioSource $source, private readonly StretchMap $map, private readonly Material $material, array $attacks = [])
    {
        $this->frames = $map->length();
        $this->stream = tmpfile() ?: throw new \RuntimeException('No temporary file could be made.');
        $this->parts = Material::Hits === $material ? $this->hits($attacks) : [[0, $source->frames(), 0, $this->frames, 0]];
    }

    /**
     * The same speed throughout.
     *
     * @param float     $ratio   length of the result over that of the source, 0.25 to 4
     * @param list<int> $attacks
     */
    public static function by(AudioSource $source, float $ratio, Material $material, array $attacks = []): self
    {
        return new self($source, StretchMap::by($ratio, $source->frames()), $material, $attacks);
    }

    public function sampleRate(): int
    {
        return $this->source->sampleRate();
    }

    public function frames(): int
    {
        return $this->frames;
    }

    public function read(int $start, int $count): StereoBlock
    {
        return Reading::padded($start, $count, $this->frames, $this->kept(...));
    }

    private function kept(int $start, int $count): StereoBlock
    {
        for ($i = $this->partAt($start); isset($this->parts[$i]) && $this->parts[$i][2] < $start + $count; ++$i) {
            $this->make($i, min($start + $count, $this->parts[$i][3]));
        }
        fseek($this->stream, 8 * $start);
        $bytes = str_pad((string) stream_get_contents($this->stream, 8 * $count), 8 * $count, "\0");
        $block = (new PcmDecoder(SampleFormat::Float32, 2))->decode($bytes);

        return $block->left === $block->right ? new StereoBlock($block->left, $block->left) : $block;
    }

    /** The last part that begins at a frame of the result or before it. */
    private function partAt(int $frame): int
    {
        [$low, $high] = [0, \count($this->parts) - 1];
        while ($low < $high) {
            $middle = intdiv($low + $high + 1, 2);
            [$low, $high] = $this->parts[$middle][2] <= $frame ? [$middle, $high] : [$low, $middle - 1];
        }

        return $low;
    }

    /** Works on a part until it is there up to a frame of the result. */
    private function make(int $i, int $until): void
    {
        $this->made[$i] ??= $this->parts[$i][2];
        if ($this->made[$i] >= $until || isset($this->tails[$i])) {
            return;
        }
        $work = $this->work[$i] ??= $this->joinedPart($i);
        for (; $this->made[$i] < $until && $work->valid(); $work->next()) {
            $block = $work->current();
            fseek($this->stream, 8 * $this->made[$i]);
            fwrite($this->stream, (new PcmEncoder(SampleFormat::Float32))->encode($block));
            $this->made[$i] += $block->frames();
        }
    }

    /** @return \Generator<StereoBlock> a part from its start to its end, over which the one before it fades out */
    private function joinedPart(int $i): \Generator
    {
        [, , $at, $until] = $this->parts[$i];
        $tail = $this->tail($i - 1);
        $over = [[], []];
        $place = 0;
        foreach ($this->alone($i) as $block) {
            $block = self::joined($block, $tail, $place);
            $inside = max(0, min($block->frames(), $until - $at - $place));
            if ($inside > 0) {
                yield $inside === $block->frames() ? $block : $block->slice(0, $inside);
            }
            $over = [[...$over[0], ...\array_slice($block->left, $inside)], [...$over[1], ...\array_slice($block->right, $inside)]];
            $place += $block->frames();
        }
        $this->tails[$i] = $over;
        unset($this->work[$i]);
    }

    /**
     * What a part leaves over: when it is finished, else made for itself, which does not need the part before it.
     *
     * @return array{list<float>, list<float>}
     */
    private function tail(int $i): array
    {
        if ($i < 0) {
            return [[], []];
        }
        [, , $at, $until, $over] = $this->parts[$i];
        if (isset($this->work[$i]) || $until - $at <= $over) {
            $this->make($i, \PHP_INT_MAX);
        }
        if (!isset($this->tails[$i])) {
            $left = $right = [];
            $place = $at;
            foreach ($this->alone($i) as $block) {
                $inside = max(0, min($block->frames(), $until - $place));
                $left = [...$left, ...\array_slice($block->left, $inside)];
                $right = [...$right, ...\array_slice($block->right, $inside)];
                $place += $block->frames();
            }

            return [$left, $right];
        }

        return $this->tails[$i];
    }

    /** @return \Generator<StereoBlock> */
    private function alone(int $i): \Generator
    {
        [$from, $to, $at, $until, $over] = $this->parts[$i];
        if (Material::Hits !== $this->material) {
            return $this->part($from, $to, $until - $at, self::TONE_SECONDS, 0);
        }
        $rate = $this->source->sampleRate();

        return $this->part($from, $to + $over, $until - $at + $over, self::HIT_SECONDS, (int) ($rate * self::ATTACK_SECONDS) + (int) ($rate * self::LEAD_SECONDS), $over);
    }

    /**
     * @param list<int> $attacks
     *
     * @return non-empty-list<array{int, int, int, int, int}>
     */
    private function hits(array $attacks): array
    {
        $rate = $this->source->sampleRate();
        $lead = (int) ($rate * self::LEAD_SECONDS);
        $cuts = [0];
        foreach ($attacks as $attack) {
            if ($attack - $lead > $cuts[\count($cuts) - 1] + 2 * $lead && $attack < $this->source->frames()) {
                $cuts[] = $attack - $lead;
            }
        }
        $fade = (int) ($rate * self::FADE_SECONDS);
        $at = 0;
        $parts = [];
        foreach ($cuts as $i => $from) {
            $end = $cuts[$i + 1] ?? $this->source->frames();
            $over = isset($cuts[$i + 1]) ? min($fade, $this->source->frames() - $end) : 0;
            // The hit itself lies on its new place; what leads up to it keeps its length.
            $until = isset($cuts[$i + 1]) ? (int) round($this->map->forward($end + $lead)) - $lead : $this->frames;
            $parts[] = [$from, $end, $at, $until, $over];
            $at = $until;
        }

        return $parts;
    }

    /**
     * The end of the part before fades out under the beginning of this one.
     *
     * @param array{list<float>, list<float>} $tail
     */
    private static function joined(StereoBlock $block, array $tail, int $place): StereoBlock
    {
        $count = \count($tail[0]);
        if ($place >= $count) {
            return $block;
        }
        [$left, $right] = [$block->left, $block->right];
        foreach ($left as $i => $l) {
            if ($place + $i < $count) {
                $gain = Window::rise(($place + $i) / (float) $count);
                $left[$i] = $l * $gain + $tail[0][$place + $i];
                $right[$i] = $right[$i] * $gain + $tail[1][$place + $i];
            }
        }

        return new StereoBlock($left, array_values($right));
    }

    /**
     * A stretch of the source, made $length frames long; its first $attack frames stay as they are, its last fade out.
     *
     * @return \Generator<StereoBlock>
     */
    private function part(int $from, int $to, int $length, float $windowSeconds, int $attack, int $fade = 0): \Generator
    {
        if ($length <= 0) {
            return;
        }
        $source = $to - $from;
        $vocoder = new PhaseVocoder(1 << (int) round(log($windowSeconds * $this->source->sampleRate(), 2)));
        $size = $vocoder->size();
        $half = intdiv($size, 2);
        $attack = min($attack, (int) (0.6 * min($source, $length)));
        $around = new Surrounded($this->source, $from, $to, $attack, new Continuation($vocoder->fft));
        $speed = ($source - $attack) / max(1, $length - $attack);
        $left = $right = array_fill(0, $size, 0.0);
        $hop = $vocoder->hop;
        $even = self::evened(Window::hann($size), $hop);
        $mono = true;
        $done = 0;
        // Frame by frame of the result, each around $at; the first ones reach in from before the start.
        for ($at = -$half; $done < $length; $at += $hop) {
            // A whole recording follows its map; inside one hit the speed is even.
            $place = (int) round(match (true) {
                $at < $attack => $at,
                0 === $attack => $this->map->back($at),
                default => $attack + ($at - $attack) * $speed,
            });
            $piece = $around->read($from + $place - $half, $size);
            // While the next one is as it was too, nothing has to be known of its phases.
            $piece = $at + $hop < $attack ? $vocoder->through($piece) : $vocoder->step($piece, $place);
            if ($mono && $piece->left !== $piece->right) {
                $right = $left;
                $mono = false;
            }
            $left = self::added($left, $piece->left);
            $right = $mono ? $left : self::added($right, $piece->right);
            if ($at - $half + $hop > 0) {
                $ready = min($hop, $length - $done);
                $gains = self::gains($even, $ready, $length - $done, $fade);
                $out = self::finished($left, $gains);
                yield new StereoBlock($out, $mono ? $out : self::finished($right, $gains));
                $done += $ready;
            }
            $left = array_pad(\array_slice($left, $hop), $size, 0.0);
            $right = $mono ? $left : array_pad(\array_slice($right, $hop), $size, 0.0);
        }
    }

    /**
     * What evens out the windows of pieces that lie a hop apart.
     *
     * @param list<float> $window
     *
     * @return list<float> a gain for each frame of a hop
     */
    private static function evened(array $window, int $hop): array
    {
        $sum = array_fill(0, $hop, 0.0);
        foreach (array_chunk($window, max(1, $hop)) as $part) {
            foreach ($part as $i => $w) {
                $sum[$i] += $w * $w;
            }
        }

        return array_values(array_map(static fn (float $w): float => 1.0 / $w, $sum));
    }

    /**
     * @param array<int, float> $sum
     * @param list<float>       $piece
     *
     * @return array<int, float>
     */
    private static function added(array $sum, array $piece): array
    {
        foreach ($piece as $i => $x) {
            $sum[$i] += $x;
        }

        return $sum;
    }

    /**
     * @param list<float> $even
     * @param int         $rest frames to the end of the part
     *
     * @return list<float> gain of each frame: against the windows, and the fade at the end
     */
    private static function gains(array $even, int $count, int $rest, int $fade): array
    {
        $gains = $count < \count($even) ? \array_slice($even, 0, $count) : $even;
        for ($i = max(0, $rest - $fade + 1); $i < $count; ++$i) {
            $gains[$i] *= Window::rise(($rest - $i) / (float) $fade);
        }

        return array_values($gains);
    }

    /**
     * @param array<int, float> $sum
     * @param list<float>       $gains
     *
     * @return list<float>
     */
    private static function finished(array $sum, array $gains): array
    {
        foreach ($gains as $i => $gain) {
            $gains[$i] = $sum[$i] * $gain;
        }

        return $gains;
    }
}
