<?php

namespace Pestle\App\Machines;

use Pestle\App\Storage\DataFolder;

/** What the keeper sees of the other machines, for the pages: they ask nobody else. */
final readonly class MachinesSeen
{
    /** Seconds after which a worker that gives no sign of life is said to be away. */
    public const AWAY = 60;

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

    /** @return list<array{machine: string, worker: string, away: bool}> */
    public function workers(): array
    {
        $workers = $this->seen()['workers'] ?? [];
        $rows = [];
        foreach (\is_array($workers) ? $workers : [] as $worker => $ago) {
            $rows[] = ['machine' => self::machine((string) $worker), 'worker' => (string) $worker, 'away' => $ago > self::AWAY];
        }

        return $rows;
    }

    /** What a worker's machine is called. */
    public static function machine(string $worker): string
    {
        return (string) preg_replace('/:\d+$/', '', $worker);
    }

    /** @return array<array-key, mixed> */
    private function seen(): array
    {
        $seen = json_decode((string) @file_get_contents($this->folder->machines()), true);

        return $this->settings->areMany() && \is_array($seen) ? $seen : [];
    }
}
