<?php

namespace Pestle\Core\Render;

/**
 * What sounds in a loop that goes round. When each strike falls and when it is silenced is known at once; its voices are
 * made when a place is looked at in which it may sound, so that an edit in thousands of strikes is soon heard.
 */
final class LoopVoices
{
    /** @var array<int, list<Voice>> by strike, as far as they were wanted */
    private array $made = [];
    /** @var list<int> frame of each strike, in order */
    private readonly array $at;

    /**
     * @param list<Strike>               $strikes in order of time
     * @param array<int, int|null>       $cuts    frame at which each is silenced
     * @param array<int, int|null>       $before  pitch of the note before each note of an instrument
     * @param array<string, list<Voice>> $clips   what lies over it, by track
     * @param int                        $longest most frames that a strike sounds
     */
    public function __construct(private readonly VoicePlanner $planner, private readonly array $strikes, private readonly array $cuts, private readonly array $before, private readonly array $clips, private readonly int $frames, private readonly int $longest)
    {
        $this->at = array_map(static fn (Strike $s): int => $s->frame, $strikes);
    }

    /**
     * Voices that may sound between two frames of a pass, also those that began in passes before or fade in for the next.
     *
     * @return array<string, list<array{Voice, int}>> by pad, part or track, each with the frames by which its pass lies later
     */
    public function within(int $from, int $to): array
    {
        $voices = [];
        for ($pass = -(int) ceil(($this->longest + Voice::FADE) / $this->frames) - 1; $pass <= 1; ++$pass) {
            $offset = $pass * $this->frames;
            for ($i = $this->first($from - $offset - $this->longest - Voice::FADE), $n = \count($this->at); $i < $n && $this->at[$i] + $offset < $to + Voice::FADE; ++$i) {
                foreach ($this->made[$i] ??= $this->planner->voicesOf($this->strikes[$i], $this->cuts[$i], true, $this->before[$i] ?? null) as $voice) {
                    $voices[$this->strikes[$i]->source][] = [$voice, $offset];
                }
            }
        }

        foreach ($this->clips as $track => $list) {
            foreach ($list as $voice) {
                for ($pass = (int) ceil(($from - $voice->end()) / $this->frames); $voice->first() + $pass * $this->frames < $to; ++$pass) {
                    $voices[$track][] = [$voice, $pass * $this->frames];
                }
            }
        }

        return $voices;
    }

    /** The first strike at or behind a frame. */
    private function first(int $frame): int
    {
        [$low, $high] = [0, \count($this->at)];
        while ($low < $high) {
            $middle = intdiv($low + $high, 2);
            if ($this->at[$middle] < $frame) {
                $low = $middle + 1;
            } else {
                $high = $middle;
            }
        }

        return $low;
    }
}
