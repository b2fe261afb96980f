<?php

namespace Pestle\Core\Sample;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Continuation;
use Pestle\Core\Signal\Window;

/**
 * A source of hits made longer or shorter with its pitch kept, worked out as far as it is read, from the hit before that
 * place on.
 *
 * Hits are taken one by one: each starts on its new place exactly as it was, and only what follows its attack is
 * stretched. (Phases restarted at attacks: A. Röbel, "A new approach to transient processing in the phase
 * vocoder", DAFx 2003. Here nothing before an attack has heard of it, so it can't be smeared ahead.)
 */
final class StretchedHits extends StretchedInParts
{
    private const WINDOW_SECONDS = 0.0465;
    /** How much of a hit is kept as it was. */
    private const ATTACK_SECONDS = 0.045;
    /** A hit's part starts this much before it. */
    private const LEAD_SECONDS = 0.007;
    /** Over how long one part goes over into the next, before the hit. */
    private const FADE_SECONDS = 0.006;

    /**
     * Stretches of the source that are worked out each on their own: frames of the source from and to, of the result from
     * and to, and over how many the end goes on under the next.
     *
     * @var non-empty-list<array{int, int, int, int, int}>
     */
    private readonly array $parts;
    /** @var array<int, array{list<float>, list<float>}> what a finished part leaves over */
    private array $tails = [];

    /**
     * @param StretchMap $map     where its frames come to lie
     * @param list<int>  $attacks frames of the source at which hits begin, ascending
     */
    public function __construct(AudioSource $source, StretchMap $map, array $attacks)
    {
        parent::__construct($source, $map);
        $this->parts = $this->hits($attacks);
    }

    protected function makeAll(int $start, int $end): void
    {
        for ($i = $this->partAt($start); isset($this->parts[$i]) && $this->parts[$i][2] < $end; ++$i) {
            $this->make($i, min($end, $this->parts[$i][3]));
        }
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
            $this->kept->write($this->made[$i], $block);
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
        $rate = $this->source->sampleRate();

        return $this->part($from, $to + $over, $until - $at + $over, (int) ($rate * self::ATTACK_SECONDS) + (int) ($rate * self::LEAD_SECONDS), $over);
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
    private function part(int $from, int $to, int $length, int $attack, int $fade): \Generator
    {
        if ($length <= 0) {
            return;
        }
        $source = $to - $from;
        $vocoder = new PhaseVocoder(1 << (int) round(log(self::WINDOW_SECONDS * $this->source->sampleRate(), 2)));
        $size = $vocoder->size();
        $half = intdiv($size, 2);
        $attack = min($attack, (int) (0.6 * min($source, $length)));
        $around = new Surrounded($this->source, $from, $to, $attack, new Continuation($vocoder->fft));
        $speed = ($source - $attack) / max(1, $length - $attack);
        $hop = $vocoder->hop;
        $sum = new OverlapAdd($size, $hop);
        $done = 0;
        // Frame by frame of the result, each around $at; the first ones reach in from before the start.
        for ($at = -$half; $done < $length; $at += $hop) {
            $place = (int) round($at < $attack ? $at : $attack + ($at - $attack) * $speed);
            $piece = $around->read($from + $place - $half, $size);
            // While the next one is as it was too, nothing has to be known of its phases.
            $sum->add($at + $hop < $attack ? $vocoder->through($piece) : $vocoder->step($piece, $place));
            if ($at - $half + $hop > 0) {
                $ready = min($hop, $length - $done);
                yield $sum->finished($ready, $length - $done, $fade);
                $done += $ready;
            }
        }
    }
}
