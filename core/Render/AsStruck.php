<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Parameters;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\LfoTarget;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\WholeKit;
use Pestle\Core\Song\Movement;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\TempoMap;
use Pestle\Core\Theory\Ticks;

/**
 * Pads and instruments of which something moves: what a strike finds them set to, and how that goes on while it sounds. Most of what a
 * sound is made from is settled at the strike; level, place, pitch and cut-off go on.
 */
final readonly class AsStruck
{
    /** What goes on moving while it sounds. */
    private const GOES_ON = ['levelDb' => LfoTarget::Level, 'pan' => LfoTarget::Pan, 'tuneCents' => LfoTarget::Pitch, 'filter/cutoffHz' => LfoTarget::Cutoff];
    /** As far as a movement is followed from a strike. */
    private const FOLLOWED_TICKS = 120.0 * Ticks::PER_QUARTER;

    /** @var array<string, array<string, non-empty-list<Movement>>> by "kit/PAD" or "part/PART" and path within it, the innermost first */
    private array $moving;

    public function __construct(private Beat $beat)
    {
        $moving = [];
        $movements = array_values($beat->movements->only(static fn (Movement $m): bool => $m->on && !$m->movesMixer() && Movement::TEMPO !== $m->path)->all);
        usort($movements, static fn (Movement $a, Movement $b): int => $b->scope->depth() <=> $a->scope->depth());
        foreach ($movements as $movement) {
            [$kind, $id, $rest] = [...explode('/', $movement->path, 3), '', ''];
            // What an older version let move and this one does not know stays as it is set.
            if (true === Parameters::find($beat, $movement->path)?->parameter->moves) {
                $moving[$kind.'/'.$id][$rest][] = $movement;
            }
        }
        $this->moving = $moving;
    }

    /** Whether nothing does. */
    public function areStill(): bool
    {
        return [] === $this->moving;
    }

    /** @return list<Beat> the beat with all of it at its lowest, and at its highest */
    public function extremes(): array
    {
        $beats = [];
        foreach ($this->areStill() ? [] : [-1.0, 1.0] as $way) {
            $beat = $this->beat;
            foreach ($this->moving as $under => $paths) {
                foreach ($paths as $path => $movements) {
                    $values = array_merge(...array_map(static fn (Movement $m): array => array_column($m->curve->points, 1), $movements));
                    $setting = Parameters::at($beat, $under.'/'.$path);
                    $beat = $setting->set($setting->parameter->nearest($way * max(array_map(static fn (float $v): float => $way * $v, $values))));
                }
            }
            $beats[] = $beat;
        }

        return $beats;
    }

    /** A pad as its kit plays it, so many ticks from a place: where the strike is written, as one that is felt early belongs to its step. */
    public function pad(string $id, ?Place $place, float $ticks): ?Pad
    {
        if (null === $place || [] === $this->moving) {
            return $this->beat->soundingPad($id);
        }
        $pad = $this->beat->kit->pad($id);
        $part = $this->beat->kit->partOf($id) ?? '';
        $whole = ($this->beat->parts[$part] ?? null)?->whole;
        $moved = null === $pad ? null : $this->moved('kit/'.$id, $pad, $place, $ticks);
        $over = null === $whole ? null : $this->moved('part/'.$part, $whole, $place, $ticks);

        return $moved instanceof Pad && $over instanceof WholeKit ? $over->over($moved) : ($moved instanceof Pad ? $moved : $pad);
    }

    public function keys(string $part, ?Place $place, float $ticks): ?Keys
    {
        $keys = ($this->beat->parts[$part] ?? null)?->keys;
        $moved = null === $keys || null === $place ? $keys : $this->moved('part/'.$part, $keys, $place, $ticks);

        return $moved instanceof Keys ? $moved : $keys;
    }

    /**
     * How it goes on from a strike.
     *
     * @param string   $source id of the pad or part
     * @param TempoMap $time   from the place
     * @param float    $at     ticks from the start of that map at which the place lies
     *
     * @return list<Drift>
     */
    public function drifts(string $source, ?Place $place, float $ticks, TempoMap $time, float $at): array
    {
        $drifts = [];
        $under = null === $place || [] === $this->moving ? [] : (isset($this->beat->parts[$source]) ? ['part/'.$source] : ['kit/'.$source, 'part/'.$this->beat->kit->partOf($source)]);
        foreach ($under as $holder) {
            foreach (array_intersect_key($this->moving[$holder] ?? [], self::GOES_ON) as $path => $movements) {
                $drifts[] = null === $place ? null : $this->drift(self::GOES_ON[$path], $movements, $place, $ticks, $time, $at);
            }
        }

        return array_values(array_filter($drifts));
    }

    /** @param non-empty-list<Movement> $movements */
    private function drift(LfoTarget $target, array $movements, Place $place, float $ticks, TempoMap $time, float $at): ?Drift
    {
        foreach ($movements as $movement) {
            $from = $place->tick($movement, $ticks);
            if (null !== $from) {
                $until = min($place->lasts($movement, $from), $from + self::FOLLOWED_TICKS);
                $frame = static fn (float $tick): int => $time->frames($at + $ticks + $tick - $from, Beat::SAMPLE_RATE) - $time->frames($at + $ticks, Beat::SAMPLE_RATE);

                return Drift::along($target, array_map(static fn (array $way): array => [$frame($way[0]), $way[1], $frame($way[2]), $way[3]], $movement->curve->ways($from, $until)));
            }
        }

        return null;
    }

    private function moved(string $under, Settable $holder, Place $place, float $ticks): Settable
    {
        foreach ($this->moving[$under] ?? [] as $path => $movements) {
            $value = self::value($movements, $place, $ticks);
            if (null !== $value) {
                $field = basename($path);
                $inner = $field === $path ? $holder : $holder->inner()[\dirname($path)] ?? null;
                $set = $inner?->with([$field => $inner::parameters()[$field]->nearest($value)]);
                $holder = null === $set || $field === $path ? $set ?? $holder : $holder->withInner(\dirname($path), $set);
            }
        }

        return $holder;
    }

    /** @param non-empty-list<Movement> $movements the innermost first: the first that says something is heard */
    private static function value(array $movements, Place $place, float $ticks): ?float
    {
        foreach ($movements as $movement) {
            $tick = $place->tick($movement, $ticks);
            if (null !== $tick) {
                return $movement->curve->at($tick);
            }
        }

        return null;
    }
}
