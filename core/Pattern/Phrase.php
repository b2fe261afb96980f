<?php

namespace Pestle\Core\Pattern;

use Pestle\Core\Analysis\HeardNote;
use Pestle\Core\Theory\Ticks;

/** What was heard in a recording as notes of a pattern: those that are sure enough, as many at once as wished, in the scale and on the grid if wished. */
final readonly class Phrase
{
    public const KEEP = ['all', 'lowest', 'highest'];
    /** Notes that begin within so many seconds begin together. */
    private const TOGETHER = 0.05;

    /**
     * @param float     $sure    least confidence, 0 to 1
     * @param string    $keep    one of KEEP: of those that sound at once
     * @param int       $low     lowest pitch that counts
     * @param int       $high    highest one
     * @param list<int> $scale   pitch classes to which others are moved; none for as they are
     * @param int       $grid    ticks to which starts and ends are drawn; 0 for as played
     * @param int       $octaves moved by so many octaves
     */
    public function __construct(
        private float $sure = 0.0,
        private string $keep = 'all',
        private int $low = 0,
        private int $high = Note::MAX_PITCH,
        private array $scale = [],
        private int $grid = 0,
        private int $octaves = 0,
    ) {
    }

    /**
     * @param list<HeardNote> $heard in order of their start
     *
     * @return list<HeardNote> those that are taken
     */
    public function kept(array $heard): array
    {
        $heard = array_values(array_filter($heard, fn (HeardNote $n): bool => $n->confidence >= $this->sure && $n->pitch >= $this->low && $n->pitch <= $this->high));
        if ('all' === $this->keep) {
            return $heard;
        }
        $kept = [];
        foreach ($heard as $note) {
            $other = array_filter($heard, static fn (HeardNote $o): bool => $o !== $note && $o->start < $note->end - self::TOGETHER && $o->end > $note->start + self::TOGETHER);
            $further = array_filter($other, fn (HeardNote $o): bool => 'lowest' === $this->keep ? $o->pitch < $note->pitch : $o->pitch > $note->pitch);
            if ([] === $further) {
                $kept[] = $note;
            }
        }

        return $kept;
    }

    /**
     * @param list<HeardNote>        $heard  in order of their start
     * @param \Closure(float): float $beatAt which beat (quarter note) is at a second
     *
     * @return list<Note>
     */
    public function notes(array $heard, \Closure $beatAt): array
    {
        return array_values(array_filter(array_map(function (HeardNote $note) use ($beatAt): ?Note {
            $start = Ticks::PER_QUARTER * $beatAt($note->start);
            $end = Ticks::PER_QUARTER * $beatAt($note->end);
            if ($this->grid > 0) {
                $start = round($start / $this->grid) * $this->grid;
                $end = max($start + $this->grid, round($end / $this->grid) * $this->grid);
            }
            $pitch = $this->inScale($note->pitch) + 12 * $this->octaves;
            $tick = (int) floor(max(0.0, $start));

            return $pitch < 0 || $pitch > Note::MAX_PITCH ? null : new Note($tick, $pitch, $note->velocity, max(1, (int) round($end - $start)), 100, (int) floor((max(0.0, $start) - $tick) * Hit::FINE));
        }, $this->kept($heard))));
    }

    /** The nearest note of the scale, the lower one of two. */
    private function inScale(int $pitch): int
    {
        if ([] === $this->scale) {
            return $pitch;
        }
        for ($off = 0; $off < 7; ++$off) {
            foreach ([-$off, $off] as $by) {
                if (\in_array((($pitch + $by) % 12 + 12) % 12, $this->scale, true)) {
                    return $pitch + $by;
                }
            }
        }

        return $pitch;
    }
}
