<?php

namespace Pestle\Core\Render;

use Pestle\Core\Mix\InsertState;
use Pestle\Core\Song\Part;

/**
 * Plays a plan from any place on, a few segments at a time: a song to its end, a loop round and round. After an edit it
 * goes on from what a reader of the version before knew: to the bit from the first difference on, and where that lies
 * far back, or the mixer itself was changed, as a mixer does whose controls are moved while it plays.
 */
final class PlanReader
{
    /** With nothing known, so many segments before the place let the chain get going. */
    private const WARM_UP = 11;
    /** So far back a reader begins to be exact. */
    private const EXACT_WITHIN = 64;
    private const MOST_PLACES = 1024;

    /** Whether a question is being answered from it. */
    public bool $busy = false;
    public readonly Recent $recent;
    /** @var \Generator<Moment> */
    private \Generator $moments;
    private readonly Prints $prints;
    /** @var array<int, array<string, list<InsertState>>> what the chain was like before a segment */
    private array $places = [];
    private int $every = 8;
    private readonly string $mixer;
    private readonly MixChain $chain;

    /**
     * @param string     $name    what is played: the same name is the same plan
     * @param int        $at      index of the segment that comes next
     * @param list<self> $earlier readers of other versions, the likeliest first
     */
    public function __construct(private readonly string $name, private readonly Plan $plan, Renderer $renderer, private int $at, array $earlier = [])
    {
        $this->mixer = hash('xxh128', serialize([$plan->beat->rules, $plan->beat->mixer, $plan->beat->movements, array_column($plan->beat->kit->pads, 'channel', 'id'), array_map(static fn (Part $part): ?string => $part->keys?->channel, $plan->beat->parts), array_column($plan->beat->tracks, 'channel', 'id')]));
        $this->chain = $renderer->chain($plan);
        $this->recent = new Recent();
        $this->prints = new Prints($plan);
        // Of a loop only what is near matters to where it begins.
        $segments = $plan->loops ? $plan->endless(max(0, $at - self::EXACT_WITHIN)) : $plan->segments();
        $near = [];
        for (; $segments->valid() && $segments->key() < $at; $segments->next()) {
            $near[$segments->key()] = $this->prints->add($segments->current());
            unset($near[$segments->key() - self::EXACT_WITHIN]);
        }
        $start = $this->start($earlier, $near);
        $rest = self::rest($this->prints, array_filter($near, static fn (int $i): bool => $i >= $start, \ARRAY_FILTER_USE_KEY), $segments);
        $this->moments = $plan->loops ? self::round($rest, $this->chain) : $renderer->toTheEnd($rest, $this->chain, $plan->beat);
    }

    /** One step of the way from where it begins to where it is wanted; false when it is there. */
    public function catchUp(): bool
    {
        if (!$this->moments->valid() || $this->moments->current()->segment->index >= $this->at) {
            return false;
        }
        $this->moments->next();

        return true;
    }

    public function continues(string $name, int $from): bool
    {
        return !$this->busy && $name === $this->name && $from === $this->at;
    }

    /** Frames of the music, or of one pass of the loop. */
    public function musicFrames(): int
    {
        return $this->plan->frames;
    }

    /** The next moment, or null at the end. */
    public function next(): ?Moment
    {
        if (!$this->moments->valid()) {
            return null;
        }
        $moment = $this->moments->current();
        $this->keepPlace();
        ++$this->at;
        $this->moments->next();

        return $moment;
    }

    public function hasEnded(): bool
    {
        return !$this->moments->valid();
    }

    /**
     * Where to begin, so that the chain is as it should be by then.
     *
     * @param list<self>          $earlier
     * @param array<int, Segment> $near    the segments before
     */
    private function start(array $earlier, array $near): int
    {
        $nearest = null;
        foreach ([] === $near ? [] : $earlier as $other) {
            if ($other->plan->loops !== $this->plan->loops) {
                continue;
            }
            $same = $other->mixer === $this->mixer ? self::common($other->prints->list, $this->prints->list) : 0;
            $exact = $this->plan->loops ? null : $other->placeIn($near, min($same, $this->at));
            if (null !== $exact) {
                $this->chain->goOnWith($other->places[$exact]);
                $this->every = $other->every;
                $this->places = array_filter($other->places, static fn (int $place): bool => $place <= $exact, \ARRAY_FILTER_USE_KEY);

                return $exact;
            }
            $place = $other->placeIn($near, $this->at);
            $nearest ??= null === $place ? null : [$place, $other->places[$place]];
        }
        if (null === $nearest) {
            return max(0, $this->at - self::WARM_UP);
        }
        $this->chain->goOnWith($nearest[1]);

        return $nearest[0];
    }

    /**
     * The last place that is known and not after $most.
     *
     * @param array<int, Segment> $near
     */
    private function placeIn(array $near, int $most): ?int
    {
        for ($i = $most; isset($near[$i]) || isset($near[$i - 1]); --$i) {
            if (isset($this->places[$i])) {
                return $i;
            }
        }

        return null;
    }

    /**
     * @param list<string> $a
     * @param list<string> $b
     */
    private static function common(array $a, array $b): int
    {
        $n = min(\count($a), \count($b));
        for ($i = 0; $i < $n && $a[$i] === $b[$i]; ++$i) {
        }

        return $i;
    }

    /**
     * @param array<int, Segment>      $near
     * @param \Generator<int, Segment> $segments
     *
     * @return \Generator<int, Segment>
     */
    private static function rest(Prints $prints, array $near, \Generator $segments): \Generator
    {
        yield from $near;
        for (; $segments->valid(); $segments->next()) {
            yield $segments->key() => $prints->add($segments->current());
        }
    }

    /**
     * @param \Generator<int, Segment> $segments
     *
     * @return \Generator<Moment>
     */
    private static function round(\Generator $segments, MixChain $chain): \Generator
    {
        foreach ($segments as $segment) {
            $moment = $chain->advance($segment);
            if (null !== $moment) {
                yield $moment;
            }
        }
    }

    private function keepPlace(): void
    {
        $next = $this->at + 1;
        if (0 !== $next % $this->every || (!$this->plan->loops && !isset($this->prints->list[$next]))) {
            return;
        }
        $this->places[$next] = $this->chain->states();
        if (\count($this->places) <= self::MOST_PLACES) {
            return;
        }
        if ($this->plan->loops) {
            unset($this->places[array_key_first($this->places)]);
        } else {
            $this->every *= 2;
            $this->places = array_filter($this->places, fn (int $place): bool => 0 === $place % $this->every, \ARRAY_FILTER_USE_KEY);
        }
    }
}
