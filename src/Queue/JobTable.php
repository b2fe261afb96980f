<?php

namespace Pestle\App\Queue;

use Pestle\App\Server\Processes;

/**
 * All jobs, in an SQLite file of their own. A process claims one with its number and start; when that process is gone, or
 * the lease of an hour is over, the job is free again, behind all that was tried less often. What was begun three times
 * and never finished is put aside.
 */
final class JobTable
{
    private const LEASE_SECONDS = 3600;
    private const MOST_ATTEMPTS = 3;
    /** SIGKILL, a name that PHP has only on the console. */
    private const KILL = 9;
    /** Process numbers have at most as many. */
    private const PID_BITS = 22;
    private const COLUMNS = [
        'lane' => "TEXT NOT NULL DEFAULT 'long'", 'attempts' => 'INTEGER NOT NULL DEFAULT 0', 'aside' => 'INTEGER NOT NULL DEFAULT 0',
        'job_key' => 'TEXT', 'title' => "TEXT NOT NULL DEFAULT ''", 'progress' => 'REAL', 'elsewhere' => 'INTEGER NOT NULL DEFAULT 0', 'worker' => 'TEXT',
    ];
    private ?\PDO $database = null;

    public function __construct(private readonly string $path)
    {
    }

    /**
     * @param bool $elsewhere whether other machines do it
     * @param bool $anew      whether it takes the place of the one with its key, which failed and is tried again
     *
     * @return int id of the job with this key, which may have been there already
     */
    public function put(string $lane, string $body, ?string $key, string $title, bool $elsewhere = false, bool $anew = false): int
    {
        $or = $anew ? 'REPLACE' : 'IGNORE';
        $rows = $this->rows("INSERT OR $or INTO job (body, claimed_until, lane, job_key, title, elsewhere) VALUES (:body, 0, :lane, :key, :title, :elsewhere) RETURNING id", ['body' => $body, 'lane' => $lane, 'key' => $key, 'title' => $title, 'elsewhere' => (int) $elsewhere]);

        return self::whole($rows[0]['id'] ?? $this->rows('SELECT id FROM job WHERE job_key = :key', ['key' => $key])[0]['id'] ?? 0);
    }

    /** @return array{int, string}|null id and body of the next job of a lane, which is this process's from now on */
    public function claim(string $lane): ?array
    {
        $this->freeAbandoned();
        $row = $this->rows('UPDATE job SET claimed_by = :pid, claimed_until = :until, attempts = attempts + 1, progress = NULL WHERE id = (SELECT id FROM job WHERE lane = :lane AND elsewhere = 0 AND aside = 0 AND claimed_until < :now ORDER BY attempts, id LIMIT 1) RETURNING id, body', [
            'pid' => self::mark((int) getmypid()) ?? 0, 'until' => time() + self::LEASE_SECONDS, 'now' => time(), 'lane' => $lane,
        ])[0] ?? null;

        return null === $row ? null : [self::whole($row['id']), self::text($row['body'])];
    }

    public function remove(int $id): void
    {
        $this->rows('DELETE FROM job WHERE id = :id', ['id' => $id]);
    }

    /** Ends the process that is at it, if there is one, and removes the job. */
    public function stop(int $id): void
    {
        $mark = self::whole($this->rows('DELETE FROM job WHERE id = :id RETURNING claimed_by', ['id' => $id])[0]['claimed_by'] ?? 0);
        $pid = $mark & (1 << self::PID_BITS) - 1;
        if ($pid > 0 && $pid !== getmypid() && self::mark($pid) === $mark) {
            posix_kill($pid, self::KILL);
        }
    }

    /** Tries again what was put aside. */
    public function again(int $id): void
    {
        $this->rows('UPDATE job SET aside = 0, attempts = 0, claimed_until = 0 WHERE id = :id AND aside = 1', ['id' => $id]);
    }

    /** Says how far a job is, 0 to 1. */
    public function tell(string $key, float $progress): void
    {
        $this->rows('UPDATE job SET progress = :progress WHERE job_key = :key', ['progress' => $progress, 'key' => $key]);
    }

    /** @return array<int, array{string, string}> lane and body of all that other machines do, by id */
    public function elsewhere(): array
    {
        $jobs = [];
        foreach ($this->rows('SELECT id, lane, body FROM job WHERE elsewhere = 1 AND aside = 0 ORDER BY id', []) as $row) {
            $jobs[self::whole($row['id'])] = [self::text($row['lane']), self::text($row['body'])];
        }

        return $jobs;
    }

    /** Says who is at a job on another machine, and how far; null for nobody. */
    public function isAt(int $id, ?string $worker, float $progress): void
    {
        $this->rows('UPDATE job SET worker = :worker, progress = :progress WHERE id = :id AND (worker IS NOT :worker OR progress IS NOT :progress)', ['worker' => $worker, 'progress' => null === $worker ? null : $progress, 'id' => $id]);
    }

    public function putAside(int $id): void
    {
        $this->rows('UPDATE job SET aside = 1, worker = NULL, progress = NULL WHERE id = :id', ['id' => $id]);
    }

    /** What other machines were to do is done here. */
    public function bringHome(): void
    {
        $this->rows('UPDATE job SET elsewhere = 0, worker = NULL, progress = NULL WHERE elsewhere = 1', []);
    }

    public function find(string $key): ?JobRow
    {
        return $this->listed('job_key = :key', ['key' => $key])[0] ?? null;
    }

    /** @return list<JobRow> of every lane: what was put aside, what is under way, what waits */
    public function all(): array
    {
        return $this->listed('1', []);
    }

    /** @return list<string> bodies of all jobs whose key begins so */
    public function bodies(string $beginning): array
    {
        return array_map(static fn (array $row): string => self::text($row['body']), $this->rows("SELECT body FROM job WHERE job_key LIKE :key || '%'", ['key' => $beginning]));
    }

    public function body(int $id): ?string
    {
        $row = $this->rows('SELECT body FROM job WHERE id = :id', ['id' => $id])[0] ?? null;

        return null === $row ? null : self::text($row['body']);
    }

    /**
     * @param array<string, int|string> $values
     *
     * @return list<JobRow>
     */
    private function listed(string $where, array $values): array
    {
        $this->freeAbandoned();
        $state = "CASE WHEN aside = 1 THEN 'aside' WHEN claimed_until >= :now OR worker IS NOT NULL THEN 'running' ELSE 'waiting' END";

        return array_map(
            static fn (array $row): JobRow => new JobRow(self::whole($row['id']), self::text($row['title']), JobState::from(self::text($row['state'])), is_numeric($row['progress']) ? (float) $row['progress'] : null, \is_string($row['worker']) ? $row['worker'] : null),
            $this->rows("SELECT id, title, progress, worker, $state AS state FROM job WHERE $where ORDER BY aside DESC, claimed_until < :now AND worker IS NULL, attempts, id", [...$values, 'now' => time()]),
        );
    }

    private function freeAbandoned(): void
    {
        foreach ($this->rows('SELECT DISTINCT claimed_by FROM job WHERE claimed_until >= :now', ['now' => time()]) as $row) {
            $mark = self::whole($row['claimed_by']);
            if (self::mark($mark & (1 << self::PID_BITS) - 1) !== $mark) {
                $this->rows('UPDATE job SET claimed_until = 0, aside = attempts >= :most WHERE claimed_by = :pid AND claimed_until > 0', ['pid' => $mark, 'most' => self::MOST_ATTEMPTS]);
            }
        }
    }

    /** What a process is known by: its number, which others get after it, with the time of its start. Null when it has ended. */
    private static function mark(int $pid): ?int
    {
        $start = Processes::start($pid);

        return null === $start ? null : $start << self::PID_BITS | $pid;
    }

    private static function whole(mixed $value): int
    {
        return is_numeric($value) ? (int) $value : 0;
    }

    private static function text(mixed $value): string
    {
        return \is_string($value) ? $value : '';
    }

    /**
     * @param array<string, float|int|string|null> $values
     *
     * @return list<array<array-key, mixed>>
     */
    private function rows(string $sql, array $values): array
    {
        $statement = $this->database()->prepare($sql);
        $statement->execute($values);

        return array_values(array_map(static fn (mixed $row): array => (array) $row, $statement->fetchAll(\PDO::FETCH_ASSOC)));
    }

    private function database(): \PDO
    {
        if (null === $this->database) {
            $database = new \PDO('sqlite:'.$this->path, null, null, [\PDO::ATTR_ERRMODE => \PDO::ERRMODE_EXCEPTION]);
            $database->exec('PRAGMA busy_timeout = 8000');
            $database->exec('PRAGMA journal_mode = WAL');
            $database->exec('CREATE TABLE IF NOT EXISTS job (id INTEGER PRIMARY KEY AUTOINCREMENT, body BLOB NOT NULL, claimed_by INTEGER, claimed_until INTEGER NOT NULL)');
            $columns = $database->query('PRAGMA table_info(job)') ?: throw new \LogicException('SQLite says what columns a table has.');
            $there = $columns->fetchAll(\PDO::FETCH_COLUMN, 1);
            foreach (self::COLUMNS as $column => $type) {
                \in_array($column, $there, true) || $database->exec("ALTER TABLE job ADD COLUMN $column $type");
            }
            // Before jobs had keys, one of them was stored in another shape; it is handed out again at the start.
            \in_array('job_key', $there, true) || $database->exec("DELETE FROM job WHERE body LIKE '%Listen%sample%'");
            $database->exec('CREATE UNIQUE INDEX IF NOT EXISTS job_keys ON job (job_key)');
            $this->database = $database;
        }

        return $this->database;
    }
}
