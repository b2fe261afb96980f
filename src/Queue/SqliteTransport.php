<?php

namespace Pestle\App\Queue;

use Pestle\App\Server\Processes;
use Symfony\Component\Messenger\Envelope;
use Symfony\Component\Messenger\Stamp\TransportMessageIdStamp;
use Symfony\Component\Messenger\Transport\Serialization\SerializerInterface;
use Symfony\Component\Messenger\Transport\TransportInterface;

/**
 * One lane of a queue in an SQLite file of its own. A worker claims a message with its process number and start; when that
 * process is gone, or the lease of an hour is over, the message is free again, behind all that was tried less often.
 * What was begun three times and never finished is put aside.
 */
final class SqliteTransport implements TransportInterface
{
    private const LEASE_SECONDS = 3600;
    private const MOST_ATTEMPTS = 3;
    /** Process numbers have at most as many. */
    private const PID_BITS = 22;
    private ?\PDO $database = null;

    public function __construct(private readonly string $path, private readonly string $lane, private readonly SerializerInterface $serializer)
    {
    }

    public function get(): iterable
    {
        $database = $this->database();
        $this->freeAbandoned($database);
        $row = $this->rows($database, 'UPDATE job SET claimed_by = :pid, claimed_until = :until, attempts = attempts + 1 WHERE id = (SELECT id FROM job WHERE lane = :lane AND aside = 0 AND claimed_until < :now ORDER BY attempts, id LIMIT 1) RETURNING id, body', [
            'pid' => self::mark((int) getmypid()) ?? 0, 'until' => time() + self::LEASE_SECONDS, 'now' => time(), 'lane' => $this->lane,
        ])[0] ?? null;

        return null === $row ? [] : [$this->envelope($row)];
    }

    public function ack(Envelope $envelope): void
    {
        $id = $envelope->last(TransportMessageIdStamp::class)?->getId();
        $this->rows($this->database(), 'DELETE FROM job WHERE id = :id', ['id' => is_numeric($id) ? (int) $id : 0]);
    }

    public function reject(Envelope $envelope): void
    {
        $this->ack($envelope);
    }

    public function send(Envelope $envelope): Envelope
    {
        $body = $this->serializer->encode($envelope->withoutAll(TransportMessageIdStamp::class))['body'] ?? '';
        $row = $this->rows($this->database(), 'INSERT INTO job (body, claimed_until, lane) VALUES (:body, 0, :lane) RETURNING id', ['body' => \is_string($body) ? $body : '', 'lane' => $this->lane])[0] ?? [];
        $id = $row['id'] ?? 0;

        return $envelope->with(new TransportMessageIdStamp(is_numeric($id) ? (int) $id : 0));
    }

    /** @return list<Envelope> all that waits, is being done, or was put aside, of every lane */
    public function waiting(): array
    {
        return array_map($this->envelope(...), $this->rows($this->database(), 'SELECT id, body FROM job ORDER BY id', []));
    }

    /** @return list<Envelope> what was put aside, of every lane */
    public function aside(): array
    {
        $this->freeAbandoned($this->database());

        return array_map($this->envelope(...), $this->rows($this->database(), 'SELECT id, body FROM job WHERE aside = 1 ORDER BY id', []));
    }

    /** Tries again what was put aside. */
    public function again(int $id): void
    {
        $this->rows($this->database(), 'UPDATE job SET aside = 0, attempts = 0, claimed_until = 0 WHERE id = :id AND aside = 1', ['id' => $id]);
    }

    /** Lets go what was put aside. */
    public function dismiss(int $id): void
    {
        $this->rows($this->database(), 'DELETE FROM job WHERE id = :id AND aside = 1', ['id' => $id]);
    }

    private function freeAbandoned(\PDO $database): void
    {
        foreach ($this->rows($database, 'SELECT DISTINCT claimed_by FROM job WHERE claimed_until >= :now', ['now' => time()]) as $row) {
            $mark = is_numeric($row['claimed_by']) ? (int) $row['claimed_by'] : 0;
            if (self::mark($mark & (1 << self::PID_BITS) - 1) !== $mark) {
                $this->rows($database, 'UPDATE job SET claimed_until = 0, aside = attempts >= :most WHERE claimed_by = :pid AND claimed_until > 0', ['pid' => $mark, 'most' => self::MOST_ATTEMPTS]);
            }
        }
    }

    /** What a process is known by: its number, which others get after it, with the time of its start. Null when it has ended. */
    private static function mark(int $pid): ?int
    {
        $start = Processes::start($pid);

        return null === $start ? null : $start << self::PID_BITS | $pid;
    }

    /** @param array<array-key, mixed> $row */
    private function envelope(array $row): Envelope
    {
        $id = $row['id'] ?? 0;

        return $this->serializer->decode(['body' => \is_string($row['body'] ?? null) ? $row['body'] : ''])->with(new TransportMessageIdStamp(is_numeric($id) ? (int) $id : 0));
    }

    /**
     * @param array<string, int|string> $values
     *
     * @return list<array<array-key, mixed>>
     */
    private function rows(\PDO $database, string $sql, array $values): array
    {
        $statement = $database->prepare($sql);
        $statement->execute($values);
        $rows = [];
        foreach ($statement->fetchAll(\PDO::FETCH_ASSOC) as $row) {
            $rows[] = (array) $row;
        }

        return $rows;
    }

    private function database(): \PDO
    {
        if (null === $this->database) {
            $this->database = new \PDO('sqlite:'.$this->path, null, null, [\PDO::ATTR_ERRMODE => \PDO::ERRMODE_EXCEPTION]);
            $this->database->exec('PRAGMA busy_timeout = 8000');
            $this->database->exec('PRAGMA journal_mode = WAL');
            $this->database->exec('CREATE TABLE IF NOT EXISTS job (id INTEGER PRIMARY KEY AUTOINCREMENT, body BLOB NOT NULL, claimed_by INTEGER, claimed_until INTEGER NOT NULL)');
            $columns = array_column($this->rows($this->database, 'PRAGMA table_info(job)', []), 'name');
            foreach (['lane' => "TEXT NOT NULL DEFAULT 'long'", 'attempts' => 'INTEGER NOT NULL DEFAULT 0', 'aside' => 'INTEGER NOT NULL DEFAULT 0'] as $column => $type) {
                \in_array($column, $columns, true) || $this->database->exec("ALTER TABLE job ADD COLUMN $column $type");
            }
        }

        return $this->database;
    }
}
