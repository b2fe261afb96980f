<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Song\Movement;
use Pestle\Core\Song\Scope;
use Pestle\Core\Theory\Ticks;

/** Where a segment begins, as what moves counts it: on the line of the song, in a pass of a section, in the rounds of its patterns. */
final readonly class Place
{
    /**
     * @param float|null         $song     tick of the song; null beside it
     * @param string             $section  id of what is played: a section, or a pattern on its own
     * @param float              $within   ticks since this pass of it began
     * @param int                $ticks    how long a pass of it is
     * @param array<string, int> $patterns ticks of those that go round in it, by id
     * @param self|null          $before   the end of what was played before this pass; null at the very start
     */
    private function __construct(private ?float $song, private string $section, private float $within, private int $ticks, private array $patterns, private ?self $before)
    {
    }

    /** @param int|null $song tick of the song at which this pass begins */
    public static function of(Beat $beat, string $what, Passage $passage, ?int $song, ?self $before): self
    {
        $patterns = [];
        foreach ($passage->patterns as [$pattern]) {
            $patterns[$pattern->id] = $pattern->ticks;
        }

        return new self(null === $song ? null : (float) $song, $what, 0.0, $passage->ticks, $patterns, $before);
    }

    public function later(float $ticks): self
    {
        return new self(null === $this->song ? null : $this->song + $ticks, $this->section, $this->within + $ticks, $this->ticks, $this->patterns, $this->before);
    }

    /** Where this pass ends, as what comes next remembers it. */
    public function end(): self
    {
        return new self(null === $this->song ? null : $this->song - $this->within + $this->ticks, $this->section, (float) $this->ticks, $this->ticks, $this->patterns, null);
    }

    /** Going round: what was before is its own end. */
    public function round(): self
    {
        return new self($this->song, $this->section, $this->within, $this->ticks, $this->patterns, $this->end());
    }

    /**
     * Tick at which a movement is, some ticks from here; null where it says nothing.
     *
     * @param float $ticks may be negative
     */
    public function tick(Movement $movement, float $ticks): ?float
    {
        if (Scope::Song === $movement->scope) {
            return null === $this->song ? null : $this->song + $ticks;
        }
        $within = $this->within + $ticks;
        if ($within < 0.0 && null !== $this->before) {
            return $this->before->tick($movement, $within);
        }
        if (Scope::Section === $movement->scope) {
            return $movement->of === $this->section ? max(0.0, min((float) $this->ticks, $within)) : null;
        }
        $round = $this->patterns[$movement->of] ?? null;

        // Once a pass has ended a pattern does not begin again.
        return null === $round ? null : ($within < 0.0 ? 0.0 : ($within >= $this->ticks ? (float) $round : fmod($within, $round)));
    }

    /** Tick at which a movement is here, where it goes on evenly for some ticks from here; null where it says nothing, or a pass or round ends meanwhile. */
    public function steady(Movement $movement, float $ticks): ?float
    {
        if (Scope::Song === $movement->scope) {
            return $this->song;
        }
        $start = $this->tick($movement, 0.0);
        if (null === $start || $this->within < 0.0 || $this->within + $ticks >= $this->ticks) {
            return null;
        }

        // Of later rounds the start is reckoned another way, which is not the same in the last place.
        return Scope::Section === $movement->scope || $this->within + $ticks < ($this->patterns[$movement->of] ?? 0) ? $start : null;
    }

    /** The tick of a movement until which it goes on, for what began before that. */
    public function lasts(Movement $movement, float $from): float
    {
        return match ($movement->scope) {
            Scope::Song => max($from, $movement->curve->points[\count($movement->curve->points) - 1][0] + Ticks::PER_QUARTER),
            Scope::Section => (float) $this->ticks,
            Scope::Pattern => (float) ($this->patterns[$movement->of] ?? $from),
        };
    }

    public function print(): string
    {
        return $this->song.' '.$this->section.' '.$this->within.' '.$this->before?->section;
    }
}
