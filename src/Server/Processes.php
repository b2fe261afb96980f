<?php

namespace Pestle\App\Server;

/**
 * Processes that lead a group of their own, on record with the time of their start: numbers come round, and what a process
 * has begun outlives it. Source: proc(5), /proc/[pid]/stat.
 */
final readonly class Processes
{
    private const STATE = 0;
    private const GROUP = 2;
    private const STARTED = 19;

    public function __construct(private string $record)
    {
    }

    /** When a process began, in ticks since the machine did; null when it has ended. */
    public static function start(int $pid): ?int
    {
        $fields = self::stat($pid);

        return null === $fields || 'Z' === $fields[self::STATE] ? null : (int) $fields[self::STARTED];
    }

    /** @param list<int> $leaders */
    public function remember(array $leaders): void
    {
        file_put_contents($this->record.'.part', json_encode(['boot' => self::boot(), 'leaders' => array_map(static fn (int $pid): array => [$pid, self::start($pid)], $leaders)]));
        rename($this->record.'.part', $this->record);
    }

    public function forget(): void
    {
        @unlink($this->record);
    }

    /**
     * Groups on record of which somebody is alive, with their leader or without: a number is not given again as long as
     * there is a group of it.
     *
     * @return list<int>
     */
    public function left(): array
    {
        $record = json_decode((string) @file_get_contents($this->record), true);
        if (!\is_array($record) || ($record['boot'] ?? null) !== self::boot() || !\is_array($record['leaders'] ?? null)) {
            return [];
        }
        $groups = [];
        foreach (glob('/proc/[0-9]*') ?: [] as $folder) {
            $fields = self::stat((int) basename($folder));
            if (null !== $fields && 'Z' !== $fields[self::STATE]) {
                $groups[(int) $fields[self::GROUP]] = true;
            }
        }
        $left = [];
        foreach ($record['leaders'] as $leader) {
            [$pid, $start] = \is_array($leader) ? [...$leader, null, null] : [null, null];
            // Who has its number now is somebody else.
            $taken = \is_int($pid) && null !== self::stat($pid) && !\in_array(self::start($pid), [$start, null], true);
            if (\is_int($pid) && $pid > 1 && !$taken && isset($groups[$pid])) {
                $left[] = $pid;
            }
        }

        return $left;
    }

    /** Ends what is left of all groups on record: asked to at first, then without a word. */
    public function end(): void
    {
        foreach ($left = $this->left() as $group) {
            posix_kill(-$group, \SIGTERM);
        }
        for ($i = 0; $i < 50 && [] !== $left; ++$i) {
            usleep(50_000);
            $left = $this->left();
        }
        foreach ($left as $group) {
            posix_kill(-$group, \SIGKILL);
        }
        for ($i = 0; $i < 100 && [] !== $this->left(); ++$i) {
            usleep(20_000);
        }
    }

    private static function boot(): string
    {
        return trim((string) @file_get_contents('/proc/sys/kernel/random/boot_id'));
    }

    /** @return list<string>|null the fields behind the name, which may hold anything */
    private static function stat(int $pid): ?array
    {
        $stat = (string) @file_get_contents("/proc/$pid/stat");
        $fields = explode(' ', substr($stat, (int) strrpos($stat, ')') + 2));

        return isset($fields[self::STARTED]) ? $fields : null;
    }
}
