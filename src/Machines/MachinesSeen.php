<?php

namespace Pestle\App\Machines;

use Pestle\App\Queue\JobRow;
use Pestle\App\Storage\DataFolder;

/** What the keeper sees of the other machines, for the pages: they ask nobody else. */
final readonly class MachinesSeen
{
    /** Without a sign of life for so long, a worker is said to be away. */
    private const AWAY_SECONDS = 60;

    public function __construct(private DataFolder $folder, private MachineSettings $settings)
    {
    }

    /** @param array<string, int> $workers seconds since each was seen, by name */
    public function remember(array $workers, string $problem): void
    {
        $path = $this->folder->machines();
        file_put_contents($path.'.part', json_encode(['workers' => (object) $workers, 'problem' => $problem], \JSON_THROW_ON_ERROR));
        rename($path.'.part', $path);
    }

    public function areMany(): bool
    {
        return $this->settings->areMany();
    }

    /** Why the others cannot be reached, in words; else nothing. */
    public function problem(): string
    {
        $problem = $this->seen()['problem'] ?? '';

        return \is_string($problem) ? $problem : '';
    }

    /**
     * @param list<JobRow> $jobs
     *
     * @return array<string, array{workers: int, at: list<string>}> by name of the machine: how many workers of it give signs of life, and what they are at
     */
    public function machines(array $jobs): array
    {
        $machines = [];
        $workers = $this->seen()['workers'] ?? [];
        foreach (\is_array($workers) ? $workers : [] as $worker => $ago) {
            $name = Worker::machine((string) $worker);
            $machines[$name] ??= ['workers' => 0, 'at' => []];
            $machines[$name]['workers'] += $ago > self::AWAY_SECONDS ? 0 : 1;
        }
        foreach ($jobs as $job) {
            if (null !== $job->worker) {
                $name = Worker::machine($job->worker);
                $machines[$name] ??= ['workers' => 0, 'at' => []];
                $machines[$name]['at'][] = $job->title;
            }
        }

        return $machines;
    }

    /** @return array<array-key, mixed> */
    private function seen(): array
    {
        $seen = json_decode((string) @file_get_contents($this->folder->machines()), true);

        return $this->settings->areMany() && \is_array($seen) ? $seen : [];
    }
}
