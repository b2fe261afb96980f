<?php

namespace Pestle\Core\Sample;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\Reading;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Window;

/**
 * A source made longer or shorter with its pitch kept. It is worked out from the start as far as it is read and kept
 * in a temporary file, so memory does not grow with its length.
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
    private const LEAD_SECONDS = 0.003;
    private const FADE_SECONDS = 0.002;

    private readonly int $frames;
    /** @var resource interleaved 32-bit floats */
    private $stream;
    private int $made = 0;
    /** @var \Generator<StereoBlock> */
    private \Generator $work;

    /**
     * @param StretchMap $map     where its frames come to lie
     * @param list<int>  $attacks frames of the source at which hits begin, ascending; only asked for hits
     */
    public function __construct(private readonly AudioSource $source, private readonly StretchMap $map, Material $material, array $attacks = [])
    {
        $this->frames = $map->length();
        $this->stream = fopen('php://temp/maxmemory:4194304', 'r+') ?: throw new \RuntimeException('No temporary file could be made.');
        $this->work = Material::Hits === $material ? $this->hits($attacks) : $this->part(0, $source->frames(), $this->frames, self::TONE_SECONDS, 0);
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
        while ($this->made < $start + $count && $this->work->valid()) {
            $block = $this->work->current();
            $values = [];
            foreach ($block->left as $i => $l) {
                $values[] = $l;
                $values[] = $block->right[$i];
            }
            fseek($this->stream, 8 * $this->made);
            fwrite($this->stream, pack('g*', ...$values));
            $this->made += $block->frames();
            $this->work->next();
        }
        fseek($this->stream, 8 * $start);
        /** @var array<int, float> $values */
        $values = unpack('g*', str_pad((string) stream_get_contents($this->stream, 8 * $count), 8 * $count, "\0"));
        $left = $right = [];
        for ($i = 1; $i <= 2 * $count; $i += 2) {
            $left[] = $values[$i];
            $right[] = $values[$i + 1];
        }

        return new StereoBlock($left, $left === $right ? $left : $right);
    }

    /**
     * @param list<int> $attacks
     *
     * @return \Generator<StereoBlock>
     */
    private function hits(array $attacks): \Generator
    {
        $rate = $this->source->sampleRate();
        $lead = (int) ($rate * self::LEAD_SECONDS);
        $cuts = [0];
        foreach ($attacks as $attack) {
            if ($attack - $lead > $cuts[\count($cuts) - 1] + 4 * $lead && $attack < $this->source->frames()) {
                $cuts[] = $attack - $lead;
            }
        }
        $fade = (int) ($rate * self::FADE_SECONDS);
        $at = 0;
        $tail = [[], []];
        foreach ($cuts as $i => $from) {
            $end = $cuts[$i + 1] ?? $this->source->frames();
            $over = isset($cuts[$i + 1]) ? min($fade, $this->source->frames() - $end) : 0;
            // The hit itself lies on its new place; what leads up to it keeps its length.
            $until = isset($cuts[$i + 1]) ? (int) round($this->map->forward($end + $lead)) - $lead : $this->frames;
            $part = $this->part($from, $end + $over, $until - $at + $over, self::HIT_SECONDS, (int) ($rate * self::ATTACK_SECONDS) + $lead, $over);
            $next = [[], []];
            $place = 0;
            foreach ($part as $block) {
                $block = self::joined($block, $tail, $place);
                $inside = max(0, min($block->frames(), $until - $at - $place));
                if ($inside > 0) {
                    yield $inside === $block->frames() ? $block : $block->slice(0, $inside);
                }
                $next = [[...$next[0], ...\array_slice($block->left, $inside)], [...$next[1], ...\array_slice($block->right, $inside)]];
                $place += $block->frames();
            }
            $tail = $next;
            $at = $until;
        }
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
                $gain = ($place + $i) / (float) $count;
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
        $speed = ($source - $attack) / max(1, $length - $attack);
        $left = $right = $weight = array_fill(0, $size, 0.0);
        $window = Window::hann($size);
        $done = 0;
        // Frame by frame of the result, each around $at; the first ones reach in from before the start.
        for ($at = -$half; $done < $length; $at += $vocoder->hop) {
            // A whole recording follows its map; inside one hit the speed is even.
            $place = (int) round(match (true) {
                $at < $attack => $at,
                0 === $attack => $this->map->back($at),
                default => $attack + ($at - $attack) * $speed,
            });
            $piece = $vocoder->step($this->inside($from, $to, $from + $place - $half, $size), $place);
            foreach ($piece->left as $i => $x) {
                $w = $window[$i];
                $left[$i] += $x;
                $right[$i] += $piece->right[$i];
                $weight[$i] += $w * $w;
            }
            $hop = $vocoder->hop;
            $ready = min($hop, $length - $done);
            $start = $at - $half;
            if ($start + $hop > 0) {
                yield $this->finished($left, $right, $weight, $ready, $done, $length, $fade);
                $done += $ready;
            }
            $zeros = array_fill(0, $hop, 0.0);
            $left = [...\array_slice($left, $hop), ...$zeros];
            $right = [...\array_slice($right, $hop), ...$zeros];
            $weight = [...\array_slice($weight, $hop), ...$zeros];
        }
    }

    /**
     * @param array<int, float> $left
     * @param array<int, float> $right
     * @param array<int, float> $weight
     */
    private function finished(array $left, array $right, array $weight, int $count, int $done, int $length, int $fade): StereoBlock
    {
        $l = $r = [];
        for ($i = 0; $i < $count; ++$i) {
            $gain = 1.0 / ($weight[$i] > 0.05 ? $weight[$i] : 0.05);
            $rest = $length - $done - $i;
            if ($rest < $fade) {
                $gain *= $rest / $fade;
            }
            $l[] = $left[$i] * $gain;
            $r[] = $right[$i] * $gain;
        }

        return new StereoBlock($l, $l === $r ? $l : $r);
    }

    /** Frames of the source, silent outside a part, so that nothing is heard of its neighbours. */
    private function inside(int $from, int $to, int $start, int $count): StereoBlock
    {
        $first = max($from, min($to, $start));
        $last = max($first, min($to, $start + $count));
        if ($first === $start && $last === $start + $count) {
            return $this->source->read($start, $count);
        }
        $block = $this->source->read($first, $last - $first);
        $before = array_fill(0, $first === $last ? 0 : $first - $start, 0.0);
        $left = array_pad([...$before, ...$block->left], $count, 0.0);

        return new StereoBlock($left, $block->left === $block->right ? $left : array_pad([...$before, ...$block->right], $count, 0.0));
    }
}
