<?php

namespace Pestle\Core\Sample;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Continuation;

/**
 * A source of sustained sound made longer or shorter with its pitch kept, worked out as far as it is read.
 *
 * The phases of a vocoder go on from one place to the next. So that it can be read anywhere without all that comes before,
 * they start anew at the beginning of every part, and what they were turned by until then is made up for over the part: by
 * less than a twentieth of a hertz. What is heard at a place follows from its part and the one before.
 */
final class StretchedTones extends StretchedInParts
{
    private const WINDOW_SECONDS = 0.093;
    private const PART_SECONDS = 12.0;
    /** Hops in a window of the vocoder. */
    private const HOPS = 4;

    private readonly PhaseVocoder $form;
    /** Hops of a part. */
    private readonly int $hops;

    public function __construct(AudioSource $source, StretchMap $map)
    {
        parent::__construct($source, $map);
        $this->form = new PhaseVocoder(1 << (int) round(log(self::WINDOW_SECONDS * $source->sampleRate(), 2)));
        $this->hops = (int) ceil(self::PART_SECONDS * $source->sampleRate() / $this->form->hop);
    }

    protected function makeAll(int $start, int $end): void
    {
        $part = $this->hops * $this->form->hop;
        for ($i = intdiv($start, $part); $i * $part < $end; ++$i) {
            $this->make($i, min($end, ($i + 1) * $part, $this->frames));
        }
    }

    /** Works on a part until it is there up to a frame. */
    private function make(int $i, int $until): void
    {
        $start = $i * $this->hops * $this->form->hop;
        $this->made[$i] ??= $start;
        if ($this->made[$i] >= $until) {
            return;
        }
        if (!isset($this->work[$i])) {
            // Who is through with the part before goes on.
            $goesOn = isset($this->work[$i - 1]) && $this->made[$i - 1] >= $start;
            $this->work[$i] = $goesOn ? $this->work[$i - 1] : $this->from($i);
            if ($goesOn) {
                unset($this->work[$i - 1]);
            }
        }
        for ($work = $this->work[$i]; $this->made[$i] < $until && $work->valid(); $work->next()) {
            $block = $work->current();
            $this->kept->write($this->made[$i], $block);
            $this->made[$i] += $block->frames();
        }
        if (isset($this->made[$i + 1]) && $this->made[$i] >= $start + $this->hops * $this->form->hop) {
            unset($this->work[$i]);
        }
    }

    /** @return \Generator<StereoBlock> hops of the result, from the start of a part to the end */
    private function from(int $part): \Generator
    {
        $vocoder = clone $this->form;
        $hop = $vocoder->hop;
        $around = new Surrounded($this->source, 0, $this->source->frames(), 0, new Continuation($vocoder->fft));
        $sum = new OverlapAdd($vocoder->size(), $hop);
        $first = $part * $this->hops;
        for ($i = max(1, $first - $this->hops), $done = $first * $hop; $done < $this->frames; ++$i) {
            $place = $this->place($i);
            $piece = $around->read($place - intdiv($vocoder->size(), 2), $vocoder->size());
            if ($i < $first) {
                $vocoder->follow($piece, $place);
                continue;
            }
            if (0 === $i % $this->hops) {
                $vocoder->startAnew($piece, $place);
            }
            $sum->add($vocoder->step($piece, $place, 1.0 - $i % $this->hops / $this->hops));
            if ($i >= $first + self::HOPS) {
                $ready = min($hop, $this->frames - $done);
                yield $sum->finished($ready);
                $done += $ready;
            }
        }
    }

    /** Around which frame of the source a piece lies; the first reach in from before its start. */
    private function place(int $piece): int
    {
        $at = ($piece - self::HOPS / 2) * $this->form->hop;

        return $at < 0 ? (int) $at : (int) round($this->map->back($at));
    }
}
