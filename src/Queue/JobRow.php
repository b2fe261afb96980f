<?php

namespace Pestle\App\Queue;

use Pestle\App\Machines\Worker;

/** A job as it is listed. */
final readonly class JobRow
{
    /**
     * @param float|null  $progress 0 to 1; null where it does not say
     * @param string|null $worker   who is at it on another machine
     */
    public function __construct(public int $id, public string $title, public JobState $state, public ?float $progress, public ?string $worker = null)
    {
    }

    /** What the machine is called that is at it. */
    public function machine(): ?string
    {
        return null === $this->worker ? null : Worker::machine($this->worker);
    }
}
