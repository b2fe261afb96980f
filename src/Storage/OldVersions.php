<?php

namespace Pestle\App\Storage;

use Doctrine\DBAL\Connection;

/** Versions of beats so many steps back that they are seldom undone to. */
final readonly class OldVersions
{
    public const STEPS = 1000;
    private const OLD = 'FROM revision WHERE EXISTS (SELECT 1 FROM beat b WHERE b.id = revision.beat_id AND b.deleted_at IS NULL AND revision.number <= b.head - '.self::STEPS.')';
    private const HELD = 'SELECT j.value FROM revision r, json_each(r.manifest) j';
    private const HELD_BY_NEWER = self::HELD.' JOIN beat b ON b.id = r.beat_id WHERE b.deleted_at IS NOT NULL OR r.number > b.head - '.self::STEPS;

    public function __construct(private Connection $database)
    {
    }

    public function bytes(): int
    {
        $rows = 'SELECT COALESCE(SUM(LENGTH(manifest) + LENGTH(label) + LENGTH(touches)), 0) '.self::OLD;
        $pieces = 'SELECT COALESCE(SUM(LENGTH(body)), 0) FROM content WHERE hash NOT IN ('.self::HELD_BY_NEWER.')';

        return array_sum(array_map(function (string $sum): int {
            $bytes = $this->database->fetchOne($sum);

            return is_numeric($bytes) ? (int) $bytes : 0;
        }, [$rows, $pieces]));
    }

    public function clear(): void
    {
        $this->database->transactional(static function (Connection $database): void {
            $database->executeStatement('DELETE '.self::OLD);
            foreach (['undo_to', 'redo_to'] as $way) {
                // The way back ends where the oldest version is that was kept.
                $database->executeStatement("UPDATE revision SET $way = NULL WHERE $way IS NOT NULL AND NOT EXISTS (SELECT 1 FROM revision o WHERE o.beat_id = revision.beat_id AND o.number = revision.$way)");
            }
            $database->executeStatement('DELETE FROM content WHERE hash NOT IN ('.self::HELD.')');
            $database->executeStatement('DELETE FROM content_sample WHERE content NOT IN (SELECT hash FROM content)');
        });
        $this->database->executeStatement('VACUUM');
    }
}
