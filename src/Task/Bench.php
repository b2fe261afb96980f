<?php

namespace Pestle\App\Task;

use Pestle\Core\Render\SampleLibrary;

/** Where a job is worked on: the samples it needs, a folder for what it makes, and somebody who is told how far it is. */
final readonly class Bench
{
    /** What is left free beside what is written. */
    private const SPARE_BYTES = 100_000_000;

    /** @param \Closure(float): bool $tell */
    public function __construct(public SampleLibrary $samples, public string $folder, private \Closure $tell)
    {
    }

    /**
     * Tells how far it is, 0 to 1.
     *
     * @return bool whether it is still wanted
     *
     * @throws \RuntimeException where there is no room left to write on
     */
    public function tell(float $progress): bool
    {
        if ((int) @disk_free_space($this->folder) < self::SPARE_BYTES) {
            throw new \RuntimeException('The disk is full.');
        }

        return ($this->tell)($progress);
    }
}
