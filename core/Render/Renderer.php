<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;

/** Beat in, sound out. */
final readonly class Renderer
{
    /** How long the slowest filter or follower remembers, in seconds: a loop is warmed up for at least as long. */
    private const MEMORY_SECONDS = 4.0;

    public function __construct(private PadSounds $sounds, private SegmentCache $cache)
    {
    }

    /**
     * A loop in its steady state, all of it at hand: what playing needs. Equal to stream() of the same plan.
     *
     * @return list<Moment>
     */
    public function loop(Plan $plan): array
    {
        $chain = new MixChain($plan->beat, $this->sounds, $this->cache);
        $passes = self::passes($plan);
        $moments = [];
        $before = null;
        for ($pass = 0; $pass < $passes; ++$pass) {
            foreach ($plan->segments as $i => $segment) {
                $moment = $chain->advance($segment);
                if (null !== $moment) {
                    $moments[$moment->segment->index] = $moment;
                }
                if (0 === $i) {
                    $now = $chain->fingerprint();
                    if ($now === $before) {
                        // As it was a pass ago: every further pass would be the same.
                        ksort($moments);

                        return array_values($moments);
                    }
                    $before = $now;
                }
            }
        }
        $last = $chain->advance($plan->segments[0]);
        if (null !== $last) {
            $moments[$last->segment->index] = $last;
        }
        ksort($moments);

        return array_values($moments);
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
        $chain = new MixChain($plan->beat, $this->sounds, $this->cache, $stems);

        return $plan->loops ? $this->lastPass($plan, $chain) : $this->once($plan, $chain);
    }

    /** @return \Generator<Moment> */
    private function lastPass(Plan $plan, MixChain $chain): \Generator
    {
        $passes = self::passes($plan);
        for ($pass = 0; $pass < $passes; ++$pass) {
            foreach ($plan->segments as $i => $segment) {
                $moment = $chain->advance($segment);
                if (null !== $moment && $pass === $passes - 1 && $i > 0) {
                    yield $moment;
                }
            }
        }
        $last = $chain->advance($plan->segments[0]);
        if (null !== $last) {
            yield $last;
        }
    }

    /** @return \Generator<Moment> */
    private function once(Plan $plan, MixChain $chain): \Generator
    {
        foreach ($plan->segments as $segment) {
            $moment = $chain->advance($segment);
            if (null !== $moment) {
                yield $moment;
            }
        }
        $index = \count($plan->segments);
        $at = [] === $plan->segments ? 0 : $plan->segments[$index - 1]->start + $plan->segments[$index - 1]->frames;
        $most = $index + (int) (self::MEMORY_SECONDS * Beat::SAMPLE_RATE / Segment::FRAMES);
        for (; $index < $most; ++$index) {
            $moment = $chain->advance(new Segment($index, $at, Segment::FRAMES));
            $at += Segment::FRAMES;
            if (null !== $moment) {
                yield $moment;
                // Filters ring on after the last voice: a silent segment is the end.
                if (0.0 === $moment->mix->block()->peak() && $moment->segment->index >= \count($plan->segments)) {
                    return;
                }
            }
        }
        $last = $chain->finish();
        if (null !== $last) {
            yield $last;
        }
    }

    private static function passes(Plan $plan): int
    {
        return 1 + max(2, (int) ceil(self::MEMORY_SECONDS * Beat::SAMPLE_RATE / $plan->frames));
    }
}
