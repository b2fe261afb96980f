<?php

namespace Pestle\Core\Render;

use Pestle\Core\Kit\LfoTarget;
use Pestle\Core\Signal\StateVariable;

/** How a setting of a pad or an instrument that moves goes on from a strike while its voice sounds. */
final readonly class Drift implements Swaying
{
    /** A jump slides so long, so that it does not click: 5 ms. */
    private const JUMP_FRAMES = 220;
    private const CENTS = 1200.0;

    /** @param non-empty-list<array{int, float}> $points frame from the strike and value, in order */
    private function __construct(public LfoTarget $target, private array $points)
    {
    }

    /**
     * @param list<array{int, float, int, float}> $ways from frame, value there, to frame, value there
     *
     * @return self|null null where it stands
     */
    public static function along(LfoTarget $target, array $ways): ?self
    {
        $points = [];
        foreach ($ways as [$from, $first, $to, $last]) {
            $before = $points[\count($points) - 1] ?? null;
            if (null === $before) {
                $points[] = [$from, $first];
            } elseif ($before[1] !== $first) {
                $points[] = [max($before[0], $from + self::JUMP_FRAMES), $first];
            }
            $points[] = [max($to, $points[\count($points) - 1][0]), $last];
        }
        // How long it stays at its end says nothing.
        for ($n = \count($points); $n > 1 && $points[$n - 1][1] === $points[$n - 2][1]; --$n) {
            array_pop($points);
        }

        return [] === $points || 1 === \count(array_unique(array_column($points, 1))) ? null : new self($target, $points);
    }

    public function name(): string
    {
        return 'drift '.$this->target->value.' '.implode(' ', array_merge(...$this->points));
    }

    public function values(int $step, int $count): array
    {
        $values = [];
        $last = \count($this->points) - 1;
        for ($k = $step, $next = 0; $k < $step + $count; ++$k) {
            $frame = $k * StateVariable::STEP;
            while ($next <= $last && $this->points[$next][0] <= $frame) {
                ++$next;
            }
            [$at, $value] = $this->points[max(0, $next - 1)];
            if ($next > 0 && $next <= $last) {
                [$to, $then] = $this->points[$next];
                $value += ($then - $value) * (float) ($frame - $at) / (float) ($to - $at);
            }
            $values[] = $this->against($value);
        }

        return $values;
    }

    public function highest(): float
    {
        return max(0.0, ...array_map(fn (array $p): float => $this->against($p[1]), $this->points));
    }

    /** A value against that at the strike. */
    private function against(float $value): float
    {
        $struck = $this->points[0][1];

        return match ($this->target) {
            LfoTarget::Level => 100.0 * (10.0 ** (($value - $struck) / 20.0) - 1.0),
            LfoTarget::Pan => 100.0 * ($value - $struck),
            LfoTarget::Cutoff => self::CENTS * log($value / $struck, 2),
            default => $value - $struck,
        };
    }
}
