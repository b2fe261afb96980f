<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Mix\Master;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Entry;
use Pestle\Core\Song\HeldEffect;
use Pestle\Core\Song\LiveSet;
use Pestle\Core\Song\Movement;
use Pestle\Core\Song\Scope;
use Pestle\Core\Song\Section;
use Pestle\Core\Theory\Curve;

/**
 * A performance as a song: the sections that were played, and new ones where parts chose for themselves; a pattern that goes
 * on in the midst of itself becomes one that begins there. While it is played it is the same song with an end that is far:
 * what is heard and what is kept are one.
 */
final class Performed
{
    /** @var array<string, string> id of a section by what it is */
    private array $sections = [];
    /** @var array<string, string> id of a pattern by the one it was and what became of it */
    private array $made = [];

    private function __construct(private Beat $beat)
    {
    }

    /**
     * The beat with a stretch of a performance for its song. What lies over the old one is gone with it.
     *
     * @throws InvalidChange when it holds more than a song can
     */
    public static function song(Beat $beat, LiveSet $set, int $from, int $to): Beat
    {
        try {
            return self::made($beat, $set, $from, $to);
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }
    }

    /** @throws \InvalidArgumentException when more moves or plays than a beat can hold */
    private static function made(Beat $beat, LiveSet $set, int $from, int $to): Beat
    {
        $made = new self($beat->with(['song' => [], 'clips' => [], 'markers' => [], 'movements' => $beat->movements->only(static fn (Movement $m): bool => Scope::Song !== $m->scope)]));
        $cuts = [$from, ...$set->cuts($from, $to), $to];
        for ($i = 0; $i < \count($cuts) - 1; ++$i) {
            $made->play($set, $cuts[$i], $cuts[$i + 1]);
        }
        foreach (array_filter(HeldEffect::cases(), static fn (HeldEffect $effect): bool => !$effect->isPlayed()) as $effect) {
            // Parts that are gone since are no matter.
            foreach (['', ...array_filter($set->heldParts(), static fn (string $part): bool => isset($beat->parts[$part]))] as $part) {
                $times = array_filter($set->held($effect, $part), static fn (array $time): bool => $time[0] < $to && ($time[1] ?? $to) > $from);
                foreach ([] === $times ? [] : $made->lines($part) as $line) {
                    $made->hold($effect, $line, $times, $from, $to);
                }
            }
        }

        return $made->beat;
    }

    /** @return list<string> lines of the mixer that a part is heard through; of everything the master */
    private function lines(string $part): array
    {
        if ('' === $part) {
            return [Master::ID];
        }
        $keys = ($this->beat->parts[$part] ?? null)?->keys;
        $pads = null === $keys && isset($this->beat->parts[$part]) ? array_intersect_key($this->beat->kit->pads, array_flip($this->beat->sourcesOf($part))) : [];

        return array_values(array_unique(null === $keys ? array_column($pads, 'channel') : [$keys->channel]));
    }

    /**
     * What was held is an insert of a line that moves: where it is not held it does nothing.
     *
     * @param array<int, array{int, int|null}> $times ticks from and to
     */
    private function hold(HeldEffect $effect, string $line, array $times, int $from, int $to): void
    {
        $mixer = $this->beat->mixer;
        $chain = Master::ID === $line ? $mixer->master : $this->beat->channel($line);
        $insert = $effect->insert($chain->nextInsertId());
        $with = $chain->followedBy($insert);
        $this->beat = $this->beat->withMixer($with instanceof Master ? $mixer->withMaster($with) : $mixer->with($with));
        foreach ($effect->moves($times, $this->beat->meter->barTicks()) as $setting => $points) {
            /** @var non-empty-list<array{float, float, float}> $here */
            $here = array_values(array_map(static fn (array $p): array => [(float) max(0.0, $p[0] - $from), $p[1], $p[2]], array_filter($points, static fn (array $p): bool => $p[0] <= $to)));
            $this->beat = $this->beat->with(['movements' => $this->beat->movements->with(new Movement('mixer/'.$line.'/inserts/'.$insert->id().'/'.$setting, Scope::Song, '', new Curve($here)))]);
        }
    }

    private function play(LiveSet $set, int $from, int $to): void
    {
        $playing = [];
        foreach ($set->playing($from) as $part => [$id, $since]) {
            $pattern = $this->beat->patterns[$id] ?? null;
            if (null !== $pattern && isset($this->beat->parts[$part])) {
                [$pattern, $since] = $this->bent($set, (string) $part, $pattern, $since, $from);
                $playing[$part] = [$pattern, ($from - $since) % $pattern->ticks];
            }
        }
        $muted = array_values(array_filter($set->muted($from), fn (string $part): bool => isset($this->beat->parts[$part])));
        $cells = array_map(fn (array $p): string => $this->turned($p[0], $p[1]), $playing);
        $own = $this->known($cells, $muted);
        $round = null === $own ? $this->round(array_column($playing, 0), $to - $from) : $own->lengthTicks($this->beat->patterns);
        if (0 < $times = intdiv($to - $from, $round)) {
            $this->enter($own->id ?? $this->section($cells, $muted, $round, null), $times);
        }
        if (0 < $rest = ($to - $from) % $round) {
            $this->enter($this->section($cells, $muted, $rest, $own), 1);
        }
    }

    /**
     * A section of the maker's that is played as it is.
     *
     * @param array<string, string> $cells
     * @param list<string>          $muted
     */
    private function known(array $cells, array $muted): ?Section
    {
        foreach ($this->beat->sections as $section) {
            if ($section->lengthTicks($this->beat->patterns) > 0 && null === $section->ticks && null === $section->meter && self::same($section->patterns, $cells) && [] === array_diff($section->muted, $muted) && [] === array_diff($muted, $section->muted)) {
                return $section;
            }
        }

        return null;
    }

    /**
     * @param array<string, string> $a
     * @param array<string, string> $b
     */
    private static function same(array $a, array $b): bool
    {
        ksort($a);
        ksort($b);

        return $a === $b;
    }

    /**
     * After how many ticks all patterns begin together again; a bar where none plays, and all there is where that is too long.
     *
     * @param list<Pattern> $patterns
     */
    private function round(array $patterns, int $most): int
    {
        $round = [] === $patterns ? $this->beat->meter->barTicks() : 1;
        foreach ($patterns as $pattern) {
            [$a, $b] = [$round, $pattern->ticks];
            while ($b > 0) {
                [$a, $b] = [$b, $a % $b];
            }
            $round = intdiv($round, $a) * $pattern->ticks;
            if ($round > Pattern::MAX_TICKS) {
                return max(1, min($most, Pattern::MAX_TICKS));
            }
        }

        return $round;
    }

    /**
     * @param array<string, string> $cells
     * @param list<string>          $muted
     * @param Section|null          $of    one that it is the beginning of: what moves there moves here
     */
    private function section(array $cells, array $muted, int $ticks, ?Section $of): string
    {
        $key = json_encode([$cells, $muted, $ticks, $of?->id], \JSON_THROW_ON_ERROR);
        $same = array_filter($this->beat->sections, fn (Section $s): bool => $s->ticks === $ticks && null === $s->meter && $s->muted === $muted && self::same($s->patterns, $cells) && !$this->moves($s) && (null === $of || !$this->moves($of)));
        if (!isset($this->sections[$key]) && [] !== $same) {
            $this->sections[$key] = (string) array_key_first($same);
        }
        if (!isset($this->sections[$key])) {
            $section = new Section($this->beat->nextSectionId(), 'Played '.(\count($this->sections) + 1), $cells, $ticks, null, $muted);
            $movements = null === $of ? $this->beat->movements : $this->beat->movements->copied(Scope::Section, $of->id, $section->id);
            $this->beat = $this->beat->withSection($section)->with(['movements' => $movements]);
            $this->sections[$key] = $section->id;
        }

        return $this->sections[$key];
    }

    private function moves(Section $section): bool
    {
        return !$this->beat->movements->only(static fn (Movement $m): bool => Scope::Section === $m->scope && $m->of === $section->id)->isEmpty();
    }

    private function enter(string $section, int $repeats): void
    {
        for (; $repeats > 0; $repeats -= Entry::MAX_REPEATS) {
            $this->beat = $this->beat->withEntry(new Entry($this->beat->nextEntryId(), $section, min(Entry::MAX_REPEATS, $repeats)));
        }
    }

    /** A pattern as it plays from one of its ticks on. */
    private function turned(Pattern $pattern, int $at): string
    {
        return 0 === $at ? $pattern->id : $this->kept($pattern->id.' '.$at, function () use ($pattern, $at): array {
            [$turned, $runs] = LivePatterns::turned($pattern, $at, $this->beat->meter);

            return [$turned, static fn (Curve $curve): Curve => (new Runs($runs))->curve($curve)];
        }, $pattern->id);
    }

    /**
     * A pattern under what is held over all of them.
     *
     * @return array{Pattern, int} and the tick at which it began
     */
    private function bent(LiveSet $set, string $part, Pattern $pattern, int $since, int $now): array
    {
        foreach (array_filter(HeldEffect::cases(), static fn (HeldEffect $effect): bool => $effect->isPlayed()) as $effect) {
            $all = $set->heldSince($effect, $now);
            $begun = $set->heldSince($effect, $now, $part);
            $begun = null === $all || null === $begun ? $all ?? $begun : min($all, $begun);
            if (null === $begun) {
                continue;
            }
            $start = max($begun, $since);
            $from = $this->beat->patterns[$this->turned($pattern, ($start - $since) % $pattern->ticks)];
            if (HeldEffect::Half === $effect && 2 * $from->ticks > Pattern::MAX_TICKS) {
                continue;
            }
            $id = $this->kept($effect->value.' '.$from->id, static fn (): array => match ($effect) {
                HeldEffect::Half => [LivePatterns::slowed($from), static fn (Curve $curve): Curve => $curve->scaled(2.0)],
                HeldEffect::Backwards => [LivePatterns::mirrored($from), static fn (Curve $curve): Curve => $curve->mirrored((float) $from->ticks)],
                default => [LivePatterns::stuttered($from, HeldEffect::STUTTER), static fn (Curve $curve): Curve => (new Runs([[0, 0, HeldEffect::STUTTER]]))->curve($curve)],
            }, $from->id);
            [$pattern, $since] = [$this->beat->patterns[$id], $start];
        }

        return [$pattern, $since];
    }

    /**
     * A pattern that is made once, with what moves in the one it is made of.
     *
     * @param \Closure(): array{Pattern, \Closure(Curve): Curve} $make and how that moves there
     * @param string                                             $of   id of that one
     */
    private function kept(string $key, \Closure $make, string $of): string
    {
        if (isset($this->made[$key])) {
            return $this->made[$key];
        }
        [$pattern, $moved] = $make();
        // What was performed before may have made it already.
        foreach ($this->beat->patterns as $id => $there) {
            if ($there == $pattern->with(['id' => $id])) {
                return $this->made[$key] = $id;
            }
        }
        $pattern = $pattern->with(['id' => $this->beat->nextPatternId()]);
        $moves = $this->beat->movements->only(static fn (Movement $m): bool => Scope::Pattern === $m->scope && $m->of === $of)->each(static fn (Movement $m): Movement => $m->with(['of' => $pattern->id, 'curve' => $moved($m->curve)]));
        $this->beat = $this->beat->withPattern($pattern)->with(['movements' => $this->beat->movements->and($moves)]);

        return $this->made[$key] = $pattern->id;
    }
}
