<?php

namespace Pestle\App\Queue;

use Symfony\Component\Messenger\Envelope;
use Symfony\Component\Messenger\Stamp\TransportMessageIdStamp;
use Symfony\Component\Messenger\Transport\Serialization\SerializerInterface;
use Symfony\Component\Messenger\Transport\TransportInterface;

/**
 * A queue in an SQLite file of its own. A worker claims a message with its process number; when that
 * process is gone, or the lease of an hour is over, the message is free again.
 */
final class SqliteTransport implements TransportInterface
{
    private const LEASE_SECONDS = 3600;
    private ?\PDO $database = null;

    public function __construct(private readonly string $path, private readonly SerializerInterface $serializer)
    {
    }

    public function get(): iterable
    {
        $database = $this->database();
        $this->freeAbandoned($database);
        $row = $this->rows($database, 'UPDATE job SET claimed_by = :pid, claimed_until = :until WHERE id = (SELECT id FROM job WHERE claimed_until < :now ORDER BY id LIMIT 1) RETURNING id, body', [
            'pid' => (int) getmypid(), 'until' => time() + self::LEASE_SECONDS, 'now' => time(),
        ])[0] ?? null;
        if (null === $row || !\is_string($row['body']) || !is_numeric($row['id'])) {
            return [];
        }

        return [$this->serializer->decode(['body' => $row['body']])->with(new TransportMessageIdStamp((int) $row['id']))];
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
        $row = $this->rows($this->database(), 'INSERT INTO job (body, claimed_until) VALUES (:body, 0) RETURNING id', ['body' => \is_string($body) ? $body : ''])[0] ?? [];
        $id = $row['id'] ?? 0;

        return $envelope->with(new TransportMessageIdStamp(is_numeric($id) ? (int) $id : 0));
    }

    private function freeAbandoned(\PDO $database): void
    {
        foreach ($this->rows($database, 'SELECT DISTINCT claimed_by FROM job WHERE claimed_until >= :now', ['now' => time()]) as $row) {
            $pid = is_numeric($row['claimed_by']) ? (int) $row['claimed_by'] : 0;
            if ($pid !== getmypid() && !posix_kill($pid, 0)) {
                $this->rows($database, 'UPDATE job SET claimed_until = 0 WHERE claimed_by = :pid', ['pid' => $pid]);
            }
        }
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
        }

        return $this->database;
    }
}
