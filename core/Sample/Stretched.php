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
    private const LEAD_SECONDS = 0.007;
    /** Over how long one part goes over into the next, before the hit. */
    private const FADE_SECONDS = 0.006;

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
            fseek($this->stream, 8 * $this->made);
            fwrite($this->stream, (new PcmEncoder(SampleFormat::Float32))->encode($block));
            $this->made += $block->frames();
            $this->work->next();
        }
        fseek($this->stream, 8 * $start);
        $bytes = str_pad((string) stream_get_contents($this->stream, 8 * $count), 8 * $count, "\0");
        $block = (new PcmDecoder(SampleFormat::Float32, 2))->decode($bytes);

        return $block->left === $block->right ? new StereoBlock($block->left, $block->left) : $block;
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
            if ($attack - $lead > $cuts[\count($cuts) - 1] + 2 * $lead && $attack < $this->source->frames()) {
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
