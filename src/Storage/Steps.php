<?php

namespace Pestle\App\Storage;

use Doctrine\DBAL\Connection;
use Pestle\App\Entity\BeatRecord;

/** The steps by which a beat became what it is, by name. */
final readonly class Steps
{
    /** So many are looked through; who asks for more than that is told that there are more. */
    private const MOST = 1000;

    public function __construct(private Connection $database)
    {
    }

    /** Name of the last step that led to a revision; null for the beat as it was begun. */
    public function last(BeatRecord $record, int $number): ?string
    {
        return array_values($this->way($record, $number, 1))[0] ?? null;
    }

    /**
     * What lies between two revisions.
     *
     * @return array{done: list<string>, takenBack: list<string>} steps that only the later one has, oldest first, and those that only the earlier one had
     */
    public function between(BeatRecord $record, int $earlier, int $later): array
    {
        if ($earlier === $later) {
            return ['done' => [], 'takenBack' => []];
        }
        [$before, $after] = [$this->way($record, $earlier, self::MOST), $this->way($record, $later, self::MOST)];

        return ['done' => array_reverse(array_values(array_diff_key($after, $before))), 'takenBack' => array_reverse(array_values(array_diff_key($before, $after)))];
    }

    /** @return array<string, string> names of the steps that led to a revision, newest first; each by what it was done on and its name, since an undone and restored step is the same one */
    private function way(BeatRecord $record, int $number, int $most): array
    {
        $rows = $this->database->fetchAllAssociative(
            'WITH RECURSIVE way(label, undo_to, depth) AS (
                SELECT label, undo_to, 1 FROM revision WHERE beat_id = :beat AND number = :number
                UNION ALL SELECT r.label, r.undo_to, depth + 1 FROM way JOIN revision r ON r.beat_id = :beat AND r.number = way.undo_to WHERE depth < :most
            ) SELECT label, undo_to FROM way WHERE undo_to IS NOT NULL',
            ['beat' => $record->id, 'number' => $number, 'most' => $most],
        );
        $way = [];
        foreach ($rows as ['label' => $label, 'undo_to' => $on]) {
            if (\is_string($label) && is_numeric($on)) {
                $way[$on.' '.$label] = $label;
            }
        }

        return $way;
    }
}
