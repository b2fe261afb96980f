<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;

/** Inserts of which some move: those that stay as they are in one go, each that moves by itself. */
final readonly class InsertRuns implements Inserts
{
    /** @var list<int> how many inserts each run has */
    private array $sizes;

    /** @param list<Inserts> $runs one after another */
    public function __construct(private array $runs)
    {
        $this->sizes = array_map(static fn (Inserts $run): int => \count($run->rest()), $runs);
    }

    public function rest(): array
    {
        return array_merge(...array_map(static fn (Inserts $run): array => $run->rest(), $this->runs));
    }

    public function process(?StereoBlock $in, int $frames, array $keys, array $states, int $at): Processed
    {
        $after = $curves = [];
        foreach ($this->runs as $r => $run) {
            $from = \count($after);
            $done = $run->process($in, $frames, $keys, \array_slice($states, $from, $this->sizes[$r]), $at);
            $in = $done->sound;
            array_push($after, ...$done->states);
            foreach ($done->curves as $i => $curve) {
                $curves[$from + $i] = $curve;
            }
        }

        return new Processed($in, $after, $curves);
    }

    public function part(StereoBlock $in, array $states, array $gains, int $at): array
    {
        $after = [];
        foreach ($this->runs as $r => $run) {
            $from = \count($after);
            $own = [];
            for ($i = 0; $i < $this->sizes[$r]; ++$i) {
                if (isset($gains[$from + $i])) {
                    $own[$i] = $gains[$from + $i];
                }
            }
            [$in, $done] = $run->part($in, \array_slice($states, $from, $this->sizes[$r]), $own, $at);
            array_push($after, ...$done);
        }

        return [$in, $after];
    }
}
