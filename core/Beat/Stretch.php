<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Song\Entry;

/** A stretch of the song between two of its ticks; where something is played by its name, "FROM-TO". */
final readonly class Stretch
{
    private function __construct(public int $from, public int $to)
    {
    }

    /** @throws InvalidChange when it is one that takes no time */
    public static function named(string $what): ?self
    {
        if (1 !== preg_match('/^(\d{1,9})-(\d{1,9})$/D', $what, $ticks)) {
            return null;
        }
        [$from, $to] = [(int) $ticks[1], (int) $ticks[2]];

        return $from < $to ? new self($from, $to) : throw new InvalidChange('A range of the song ends after it begins.');
    }

    public function name(): string
    {
        return $this->from.'-'.$this->to;
    }

    /**
     * What of the song lies in it, pass by pass.
     *
     * @return list<array{Entry, Passage, int, int}> entry, what is played, which pass of the song it is, and the tick of the song at which it begins
     */
    public function passes(Beat $beat): array
    {
        $passes = [];
        $at = $number = 0;
        foreach (Passage::song($beat) as $entry) {
            $passage = Passage::ofEntry($beat, $entry);
            for ($pass = 0; $pass < $entry->repeats; ++$pass, ++$number, $at += $passage->ticks) {
                if ($at < $this->to && $at + $passage->ticks > $this->from) {
                    $passes[] = [$entry, $passage, $number, $at];
                }
            }
        }

        return $passes;
    }
}
