<?php

namespace Pestle\Core\Sample;

/** Where a sample is cut: ascending frames; each slice runs to the next marker or to the end. */
final readonly class Slices
{
    public const MAX = 128;

    /**
     * @param list<int> $markers
     * @param string    $how     "hits", "equal" or "hand": what the markers came from
     */
    public function __construct(public array $markers, public string $how = 'hand')
    {
    }

    /**
     * @return list<array{int, int}> start and end of every slice
     */
    public function regions(int $frames): array
    {
        $regions = [];
        foreach ($this->markers as $i => $start) {
            $end = $this->markers[$i + 1] ?? $frames;
            if ($end > $start) {
                $regions[] = [$start, $end];
            }
        }

        return $regions;
    }

    /** @return array{markers: list<int>, how: string} */
    public function toArray(): array
    {
        return ['markers' => $this->markers, 'how' => $this->how];
    }
}
