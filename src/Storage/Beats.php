<?php

namespace Pestle\App\Storage;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\BeatRecord;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Change\Change;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\InvalidChange;

/**
 * Beats with all their revisions. A revision is a manifest of hashes: parts of the document that did
 * not change are stored once. The head only grows; undo and redo are revisions too.
 */
final class Beats
{
    /** @var array{int, int, Beat}|null id, head and content of what was read or stored last: an answer shows what its request changed */
    private ?array $latest = null;

    public function __construct(private readonly EntityManagerInterface $entities, private readonly Connection $database, private readonly SampleCheck $samples)
    {
    }

    /** @return list<BeatRecord> newest change first */
    public function all(): array
    {
        return $this->entities->getRepository(BeatRecord::class)->findBy(['deletedAt' => null], ['changedAt' => 'DESC', 'id' => 'DESC']);
    }

    public function find(int $id): ?BeatRecord
    {
        return $this->entities->find(BeatRecord::class, $id);
    }

    public function named(string $name): ?BeatRecord
    {
        return $this->entities->getRepository(BeatRecord::class)->findOneBy(['name' => $name, 'deletedAt' => null]);
    }

    public function add(Beat $beat, bool $demo = false): BeatRecord
    {
        return $this->entities->wrapInTransaction(function () use ($beat, $demo): BeatRecord {
            $record = new BeatRecord();
            $record->demo = $demo;
            $record->describe($beat, 1);
            $this->entities->persist($record);
            $this->entities->flush();
            $this->store($record, $beat, 1, 'Start', [], null, null, null);

            return $record;
        });
    }

    public function setDeleted(BeatRecord $record, bool $deleted): void
    {
        $record->deletedAt = $deleted ? new \DateTimeImmutable() : null;
        $this->entities->flush();
    }

    /**
     * A beat by its name, or its number.
     *
     * @throws InvalidChange when there is none; it says which there are
     */
    public function called(string $name): BeatRecord
    {
        $record = $this->named($name) ?? (ctype_digit($name) ? $this->find((int) $name) : null);

        return $record ?? throw new InvalidChange(\sprintf('There is no beat named "%s". The beats are: %s.', $name, implode(', ', array_map(static fn (BeatRecord $r): string => $r->name, $this->all()))));
    }

    /** The beat as it is, or as it was at a head. */
    public function content(BeatRecord $record, ?int $number = null): Beat
    {
        $number ??= $record->head;
        if (null !== $this->latest && [$record->id, $number] === [$this->latest[0], $this->latest[1]]) {
            return $this->latest[2];
        }
        try {
            $beat = BeatCodec::decode($this->json($record, $number));
            $this->latest = [$record->id, $number, $beat];

            return $beat;
        } catch (InvalidChange|\InvalidArgumentException $e) {
            throw new Unreadable($record->id, $record->name, $e);
        }
    }

    /** @return list<string> hashes of all samples that a document mentions, wherever it does */
    public static function samplesIn(string $json): array
    {
        preg_match_all('/"([0-9a-f]{64})"/', $json, $found);

        return array_values(array_unique($found[1]));
    }

    /** The canonical JSON of content(). */
    public function json(BeatRecord $record, ?int $number = null): string
    {
        $manifest = $this->database->fetchOne('SELECT manifest FROM revision WHERE beat_id = ? AND number = ?', [$record->id, $number ?? $record->head]);
        if (!\is_string($manifest)) {
            throw new \OutOfBoundsException('This revision is not there.');
        }
        /** @var array<string, string> $hashes */
        $hashes = json_decode($manifest, true);
        $rows = $this->database->fetchAllKeyValue(
            'SELECT hash, body FROM content WHERE hash IN (?)',
            [array_values(array_unique($hashes))],
            [\Doctrine\DBAL\ArrayParameterType::STRING],
        );
        $parts = [];
        foreach ($hashes as $name => $hash) {
            $body = $rows[$hash] ?? '';
            $parts[$name] = \is_string($body) && '' !== $body ? (@gzinflate($body) ?: '') : '';
        }

        return Manifest::join($parts);
    }

    /**
     * Hits and notes of a pattern as they were at a head, without reading the rest; null when they are not there.
     *
     * @return array<string, list<list<int|string>>>|null
     */
    public function rows(BeatRecord $record, int $number, string $pattern): ?array
    {
        $body = $this->database->fetchOne('SELECT c.body FROM revision r JOIN content c ON c.hash = json_extract(r.manifest, ?) WHERE r.beat_id = ? AND r.number = ?', ['$."'.Manifest::PATTERN.$pattern.'"', $record->id, $number]);
        $piece = \is_string($body) ? json_decode(@gzinflate($body) ?: '', true) : null;
        if (!\is_array($piece)) {
            return null;
        }

        /** @var array{hits: list<list<int|string>>, notes: list<list<int|string>>} $piece */
        return ['hits' => $piece['hits'], 'notes' => $piece['notes'] ?? []];
    }

    /** @return array<string, list<string>> names of the beats whose pads play a sample, by its hash */
    public function usesOfSamples(): array
    {
        $uses = [];
        $rows = $this->database->fetchAllAssociative(
            "SELECT DISTINCT b.name, s.sample, b.changed_at, b.id FROM beat b JOIN revision r ON r.beat_id = b.id AND r.number = b.head JOIN content_sample s ON s.content IN (json_extract(r.manifest, '$.kit'), json_extract(r.manifest, '$.parts'), json_extract(r.manifest, '$.clips')) WHERE b.deleted_at IS NULL ORDER BY b.changed_at DESC, b.id DESC",
        );
        foreach ($rows as $row) {
            if (\is_string($row['sample']) && \is_string($row['name'])) {
                $uses[$row['sample']][] = $row['name'];
            }
        }

        return $uses;
    }

    /** @return array<string, true> every sample that any kept revision of any beat mentions */
    public function samplesInHistory(): array
    {
        /** @var list<string> $samples */
        $samples = $this->database->fetchFirstColumn('SELECT sample FROM content_sample UNION SELECT sample FROM kit_sample');

        return array_fill_keys($samples, true);
    }

    public function history(BeatRecord $record): History
    {
        $row = $this->database->fetchAssociative(
            'SELECT r.label AS undo, r.undo_to AS undoTo, n.label AS redo, r.redo_to AS redoTo FROM revision r LEFT JOIN revision n ON n.beat_id = r.beat_id AND n.number = r.redo_to WHERE r.beat_id = ? AND r.number = ?',
            [$record->id, $record->head],
        ) ?: throw new \OutOfBoundsException('This beat has no revisions.');

        return History::fromRow($row);
    }

    /**
     * Makes a change on the beat as the maker saw it. If the beat moved on since, the change is made on the newest
     * where the two don't touch; else nothing happens and Outdated says what moved. The same change id is done once.
     *
     * @throws InvalidChange
     * @throws Outdated
     */
    public function change(BeatRecord $record, int $seen, string $changeId, Change $change): void
    {
        $this->locked($record, function () use ($record, $seen, $changeId, $change): void {
            $done = $this->database->fetchOne('SELECT number FROM revision WHERE beat_id = ? AND change_id = ?', [$record->id, $changeId]);
            if (false !== $done) {
                return;
            }
            $this->refuseCollision($record, $seen, $change->touches());
            $before = $this->content($record);
            $after = Changes::apply($change, $before);
            $this->samples->changed($before, $after);
            $this->store($record, $after, $record->head + 1, $change->label($before), $change->touches(), $changeId, $record->head, null, $this->unchanged($record, $before, $after));
        });
    }

    /**
     * Patterns that a change left as they were need not be written again: by their names in the manifest, the hashes they have there.
     *
     * @return array<string, string>
     */
    private function unchanged(BeatRecord $record, Beat $before, Beat $after): array
    {
        $json = $this->database->fetchOne('SELECT manifest FROM revision WHERE beat_id = ? AND number = ?', [$record->id, $record->head]);
        /** @var array<string, string> $manifest */
        $manifest = json_decode(\is_string($json) ? $json : '[]', true);
        $rest = $this->database->fetchOne('SELECT body FROM content WHERE hash = ?', [$manifest['rest'] ?? '']);
        // Pieces of an older format are written anew with the rest.
        if (!\is_string($rest) || !Manifest::isCurrent(@gzinflate($rest) ?: '')) {
            return [];
        }
        $same = [];
        foreach ($after->patterns as $id => $pattern) {
            $name = Manifest::PATTERN.$id;
            if (($before->patterns[$id] ?? null) === $pattern && isset($manifest[$name])) {
                $same[$name] = $manifest[$name];
            }
        }

        return $same;
    }

    /** @throws Outdated when the beat moved on since it was seen */
    public function undo(BeatRecord $record, int $seen): void
    {
        $this->locked($record, function () use ($record, $seen): void {
            $this->refuseCollision($record, $seen, ['']);
            $to = $this->history($record)->undoTo ?? throw new InvalidChange('There is nothing to undo.');
            $this->restore($record, $to, $record->head);
        });
    }

    /** @throws Outdated when the beat moved on since it was seen */
    public function redo(BeatRecord $record, int $seen): void
    {
        $this->locked($record, function () use ($record, $seen): void {
            $this->refuseCollision($record, $seen, ['']);
            $to = $this->history($record)->redoTo ?? throw new InvalidChange('There is nothing to redo.');
            $this->restore($record, $to, null);
        });
    }

    /**
     * Goes back to the newest revision that can be read, by a new one with its content.
     *
     * @return bool whether there was one
     */
    public function recover(BeatRecord $record): bool
    {
        $back = false;
        $this->locked($record, function () use ($record, &$back): void {
            for ($number = $record->head; $number > 0 && !$back; --$number) {
                try {
                    $this->content($record, $number);
                    $back = true;
                    $number === $record->head || $this->restore($record, $number, null);
                } catch (Unreadable|\OutOfBoundsException) {
                    // The one before may be readable.
                }
            }
        });

        return $back;
    }

    /** A new revision with an earlier one's content and its place in the history. */
    private function restore(BeatRecord $record, int $to, ?int $undone): void
    {
        $row = $this->database->fetchAssociative('SELECT label, undo_to AS undoTo, redo_to AS redoTo FROM revision WHERE beat_id = ? AND number = ?', [$record->id, $to]) ?: [];
        $label = $row['label'] ?? '';
        $undoTo = $row['undoTo'] ?? null;
        $redoTo = $undone ?? $row['redoTo'] ?? null;
        $this->store(
            $record,
            $this->content($record, $to),
            $record->head + 1,
            \is_string($label) ? $label : '',
            [''],
            null,
            is_numeric($undoTo) ? (int) $undoTo : null,
            is_numeric($redoTo) ? (int) $redoTo : null,
        );
    }

    /** @param callable(): void $work */
    private function locked(BeatRecord $record, callable $work): void
    {
        $this->latest = null;
        try {
            $this->database->transactional(function () use ($record, $work): void {
                $this->entities->refresh($record);
                $work();
                $this->entities->flush();
            });
        } catch (\Throwable $e) {
            // What was not stored after all is not what is there.
            $this->latest = null;
            throw $e;
        }
    }

    /** @param list<string> $touches "" touches everything */
    private function refuseCollision(BeatRecord $record, int $seen, array $touches): void
    {
        if ($seen === $record->head) {
            return;
        }
        $moved = [];
        foreach ($this->database->fetchAllAssociative('SELECT label, touches FROM revision WHERE beat_id = ? AND number > ? ORDER BY number', [$record->id, $seen]) as $row) {
            /** @var list<string> $theirs */
            $theirs = json_decode(\is_string($row['touches']) ? $row['touches'] : '[]', true);
            if ([''] === $touches || [''] === $theirs || Changes::collide($touches, $theirs)) {
                $moved[] = \is_string($row['label']) ? $row['label'] : '';
            }
        }
        if ([] !== $moved || $seen > $record->head) {
            throw new Outdated($moved);
        }
    }

    /**
     * @param list<string>          $touches
     * @param array<string, string> $stored  hashes of pieces that are there already, by name
     */
    private function store(BeatRecord $record, Beat $beat, int $number, string $label, array $touches, ?string $changeId, ?int $undoTo, ?int $redoTo, array $stored = []): void
    {
        $manifest = array_fill_keys(array_map(static fn (int|string $id): string => Manifest::PATTERN.$id, array_keys($beat->patterns)), '');
        $manifest = [...$manifest, ...$stored];
        $new = array_filter($beat->patterns, static fn (int|string $id): bool => !isset($stored[Manifest::PATTERN.$id]), \ARRAY_FILTER_USE_KEY);
        foreach (Manifest::split($beat->with(['patterns' => $new])) as $name => $json) {
            $manifest[$name] = $hash = hash('sha256', $json);
            $new = $this->database->executeStatement('INSERT OR IGNORE INTO content (hash, body) VALUES (?, ?)', [$hash, gzdeflate($json, 1)], [1 => \Doctrine\DBAL\ParameterType::LARGE_OBJECT]);
            foreach (0 === (int) $new ? [] : Manifest::samples($json) as $sample) {
                $this->database->executeStatement('INSERT INTO content_sample (content, sample) VALUES (?, ?)', [$hash, $sample]);
            }
        }
        $this->database->insert('revision', [
            'beat_id' => $record->id,
            'number' => $number,
            'manifest' => json_encode($manifest, \JSON_THROW_ON_ERROR),
            'label' => mb_substr($label, 0, 120),
            'touches' => json_encode($touches, \JSON_THROW_ON_ERROR),
            'change_id' => $changeId,
            'undo_to' => $undoTo,
            'redo_to' => $redoTo,
            'made_at' => (new \DateTimeImmutable())->format('Y-m-d H:i:s'),
        ]);
        $record->describe($beat, $number);
        $this->latest = [$record->id, $number, $beat];
    }
}
