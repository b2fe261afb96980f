<?php

namespace Pestle\Core\Apart;

/** How the power of a recording was shared out, to tell how sure each part is and what nobody owns. */
final class Owned
{
    /** So little of the whole is as good as nothing. */
    private const NOTHING = 0.003;

    /**
     * @param list<float> $power  of each part
     * @param list<float> $alone  that power, weighed by the part's share once more: as much where nobody else has any
     * @param float       $nobody power of which no part has more than half
     */
    public function __construct(public array $power = [0.0, 0.0, 0.0, 0.0], public array $alone = [0.0, 0.0, 0.0, 0.0], public float $nobody = 0.0)
    {
    }

    /**
     * @param list<list<float>> $shares of each part in each bin
     * @param list<float>       $lr
     * @param list<float>       $li
     * @param list<float>       $rr
     * @param list<float>       $ri
     */
    public function count(array $shares, array $lr, array $li, array $rr, array $ri, float $most): void
    {
        [$p, $q, $r, $s] = $shares;
        [$p0, $q0, $r0, $s0] = $this->power;
        [$p1, $q1, $r1, $s1] = $this->alone;
        $nobody = $this->nobody;
        foreach ($lr as $k => $x) {
            $x = $x * $x + $li[$k] * $li[$k] + $rr[$k] * $rr[$k] + $ri[$k] * $ri[$k];
            $a = $p[$k];
            $b = $q[$k];
            $c = $r[$k];
            $d = $s[$k];
            $p0 += $a * $x;
            $p1 += $a * $a * $x;
            $q0 += $b * $x;
            $q1 += $b * $b * $x;
            $r0 += $c * $x;
            $r1 += $c * $c * $x;
            $s0 += $d * $x;
            $s1 += $d * $d * $x;
            if ($a < $most && $b < $most && $c < $most && $d < $most) {
                $nobody += $x;
            }
        }
        $this->power = [$p0, $q0, $r0, $s0];
        $this->alone = [$p1, $q1, $r1, $s1];
        $this->nobody = $nobody;
    }

    public function and(self $other): self
    {
        $sum = static fn (float $a, float $b): float => $a + $b;

        return new self(array_map($sum, $this->power, $other->power), array_map($sum, $this->alone, $other->alone), $this->nobody + $other->nobody);
    }

    /** How much of what a part has is its own alone, 0 to 1; null where it has as good as nothing. */
    public function sure(RecordingPart $part): ?float
    {
        $i = (int) array_search($part, RecordingPart::cases(), true);

        return $this->power[$i] > self::NOTHING * array_sum($this->power) ? $this->alone[$i] / $this->power[$i] : null;
    }

    /** Share of the power that no part owns, 0 to 1. */
    public function nobodys(): float
    {
        $all = array_sum($this->power);

        return $all > 0.0 ? $this->nobody / $all : 0.0;
    }
}
