<?php

namespace Pestle\Core\Render;

use Pestle\Core\Signal\Bend;

/** How a voice that was let go dies away. */
final readonly class Release
{
    /**
     * @param int $at     frame of the voice at which it is let go
     * @param int $frames how long it takes to die away, at least 1
     */
    public function __construct(public int $at, public int $frames, public float $bend)
    {
    }

    public function signature(): string
    {
        return $this->at.' '.$this->frames.' '.$this->bend;
    }

    /**
     * Gains as they are, and from where it is let go less and less of them.
     *
     * @param list<float> $gains one a frame
     * @param int         $from  frame of the voice of the first
     *
     * @return list<float>
     */
    public function over(array $gains, int $from): array
    {
        $count = \count($gains);
        for ($i = max(0, $this->at - $from); $i < $count; $i += $n) {
            // In chunks that begin where they always do, so that a frame has the same value from wherever one reads.
            $since = $from + $i - $this->at;
            $into = $since % Bend::CHUNK;
            $n = min(Bend::CHUNK - $into, $count - $i);
            $values = Bend::values(1.0, 0.0, $this->frames, $this->bend, $since - $into, $into + $n);
            for ($k = 0; $k < $n; ++$k) {
                $gains[$i + $k] *= max(0.0, $values[$into + $k]);
            }
        }

        return array_values($gains);
    }
}
