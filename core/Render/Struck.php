<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;

/**
 * A pad or a note struck on its own: through all lines it meets on its way, with nothing else in them. Worked out from its
 * start on, a segment at a time, so that its beginning can be heard while the rest is still on its way.
 */
final class Struck
{
    /** Longest sound of a struck pad, in seconds. */
    private const MOST_SECONDS = 30;
    /** Segments of the first piece; each one after it is twice as long as the one before. */
    private const FIRST = 2;

    private readonly MixChain $chain;
    /** Frame at which the last voice ends. */
    private readonly int $played;
    /** Frame at which at the latest nothing rings on. */
    private readonly int $end;
    private int $at = 0;
    private bool $over = false;
    /** Pieces that were given. */
    public int $pieces = 0;

    /** @param list<Voice> $voices */
    public function __construct(Beat $beat, string $channel, private readonly string $source, private readonly array $voices, PadSounds $sounds)
    {
        $mixer = $beat->mixer->only($channel);
        $this->chain = new MixChain($beat->withMixer($mixer), $sounds, SegmentCache::none());
        $this->played = max([0, ...array_map(static fn (Voice $v): int => $v->end(), $voices)]);
        $this->end = min($this->played + (int) ($mixer->rings($beat->tempo) * Beat::SAMPLE_RATE), self::MOST_SECONDS * Beat::SAMPLE_RATE);
    }

    public function isOver(): bool
    {
        return $this->over;
    }

    /**
     * The next piece, in steps of a segment; the last one is what is left.
     *
     * @return \Generator<int, null, mixed, string> interleaved integers of 2^-23
     */
    public function piece(): \Generator
    {
        $sound = '';
        for ($segments = self::FIRST << $this->pieces; $segments > 0 && !$this->over;) {
            $moment = $this->moment();
            if (null !== $moment) {
                $sound .= $moment->mix->sound();
                --$segments;
            }
            yield;
        }
        ++$this->pieces;

        return $sound;
    }

    private function moment(): ?Moment
    {
        if ($this->at >= $this->end) {
            $this->over = true;

            return $this->chain->finish();
        }
        $segment = new Segment(intdiv($this->at, Segment::FRAMES), $this->at, min(Segment::FRAMES, $this->end - $this->at));
        $segment->voices[$this->source] = array_map(fn (Voice $v): array => [$v, $v->start - $this->at], $this->voices);
        $this->at += Segment::FRAMES;
        $moment = $this->chain->advance($segment);
        $this->over = null !== $moment && $moment->segment->start >= $this->played && 0.0 === $moment->mix->block()->peak();

        return $moment;
    }
}
