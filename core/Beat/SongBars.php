<?php

namespace Pestle\Core\Beat;

/** The bars of a song: counted through its sections, each in its own meter. */
final readonly class SongBars
{
    /**
     * @param list<int> $starts ticks at which bars begin
     * @param int       $end    tick at which the last section ends
     */
    private function __construct(public array $starts, public int $end)
    {
    }

    public static function of(Beat $beat): self
    {
        $starts = [];
        $at = 0;
        foreach (Passage::song($beat) as $entry) {
            $section = $beat->section($entry->section);
            $ticks = $section->lengthTicks($beat->patterns);
            $bar = ($section->meter ?? $beat->meter)->barTicks();
            for ($pass = 0; $pass < $entry->repeats; ++$pass, $at += $ticks) {
                for ($in = 0; $in < $ticks; $in += $bar) {
                    $starts[] = $at + $in;
                }
            }
        }

        return new self($starts, $at);
    }

    /**
     * From the start of one bar to the end of another, counted from 1.
     *
     * @throws InvalidChange when the song has no such bars
     */
    public function stretch(int $first, int $last): Stretch
    {
        $bars = \count($this->starts);
        if ($first < 1 || $last < $first || $last > $bars) {
            throw new InvalidChange(0 === $bars ? 'The song is empty: it has no bars yet.' : \sprintf('Bars %d to %d are not in the song: choose from 1 to %d.', $first, $last, $bars));
        }

        return Stretch::named($this->starts[$first - 1].'-'.($this->starts[$last] ?? $this->end)) ?? throw new \LogicException('A bar takes time.');
    }
}
