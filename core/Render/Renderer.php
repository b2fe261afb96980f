<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;

/** Beat in, sound out. */
final readonly class Renderer
{
    public function __construct(private PadSounds $sounds, private SegmentCache $cache)
    {
    }

    /**
     * A loop in its steady state: passes until one is as the one before, of which the last counts. Together its moments
     * equal stream() of the same plan.
     *
     * @return \Generator<int, Moment|null> null for a segment that does not count; before those that do comes the one before the start
     */
    public function loop(Plan $plan): \Generator
    {
        return $this->passes($plan, $this->chain($plan));
    }

    /**
     * Segment after segment in constant memory; a song goes on until its last tail is gone.
     *
     * @param array<string, string>|null $stems name of the stem of every pad
     *
     * @return \Generator<Moment>
     */
    public function stream(Plan $plan, ?array $stems = null): \Generator
    {
        $chain = $this->chain($plan, $stems);

        return $plan->loops ? $this->lastPass($plan, $chain) : $this->toTheEnd($plan->segments(), $chain, $plan->beat);
    }

    /** @param array<string, string>|null $stems */
    public function chain(Plan $plan, ?array $stems = null): MixChain
    {
        return new MixChain($plan->beat, $this->sounds, $this->cache, $stems, $plan->loops ? $plan->frames : null);
    }

    /** @return \Generator<int, Moment|null> as loop() */
    private function passes(Plan $plan, MixChain $chain): \Generator
    {
        $segments = iterator_to_array($plan->segments());
        $last = self::mostPasses($plan) - 1;
        $before = null;
        for ($pass = 0; $pass <= $last; ++$pass) {
            foreach ($segments as $i => $segment) {
                $moment = $chain->advance($segment);
                if (0 === $i) {
                    $now = $chain->fingerprint();
                    // As it was a pass ago: every further pass would be the same.
                    $last = $now === $before ? $pass : $last;
                    $before = $now;
                }
                yield $pass === $last ? $moment : null;
            }
        }
        yield $chain->advance($segments[0]);
    }

    /** @return \Generator<Moment> */
    private function lastPass(Plan $plan, MixChain $chain): \Generator
    {
        $before = null;
        foreach ($this->passes($plan, $chain) as $moment) {
            if (null !== $moment && null !== $before) {
                yield $moment;
            }
            $before = $moment;
        }
    }

    /**
     * The rest of a song, and what rings on after its last voice.
     *
     * @param \Generator<int, Segment> $segments
     *
     * @return \Generator<Moment>
     */
    public function toTheEnd(\Generator $segments, MixChain $chain, Beat $beat): \Generator
    {
        $segment = null;
        foreach ($segments as $segment) {
            $moment = $chain->advance($segment);
            if (null !== $moment) {
                yield $moment;
            }
        }
        $played = null === $segment ? 0 : $segment->index + 1;
        $most = $played + (int) (Lines::rings($beat) * Beat::SAMPLE_RATE / Segment::FRAMES);
        while (null !== $segment && $segment->index + 1 < $most) {
            $segment = $segment->following($beat->tempo);
            $moment = $chain->advance($segment);
            if (null !== $moment) {
                yield $moment;
                // Filters ring on after the last voice: a silent segment is the end.
                if (0.0 === $moment->mix->block()->peak() && $moment->segment->index >= $played) {
                    return;
                }
            }
        }
        $last = $chain->finish();
        if (null !== $last) {
            yield $last;
        }
    }

    /** A loop is warmed up for at least as long as something is heard. */
    private static function mostPasses(Plan $plan): int
    {
        return 1 + max(2, (int) ceil(Lines::rings($plan->beat) * Beat::SAMPLE_RATE / $plan->frames));
    }
}
