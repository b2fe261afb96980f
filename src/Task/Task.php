<?php

namespace Pestle\App\Task;

use Pestle\App\Queue\Job;
use Symfony\Component\DependencyInjection\Attribute\AutoconfigureTag;

/**
 * How a kind of job is done: here what it needs is packed and what came of it is settled; the work between may be done
 * anywhere and sees nothing but what was packed.
 *
 * @template T of Job
 */
#[AutoconfigureTag('pestle.task')]
interface Task
{
    /** What it is called between machines. */
    public static function name(): string;

    /**
     * @param T $job
     *
     * @return Load|null null when it is not wanted any more, or done
     */
    public function pack(Job $job): ?Load;

    /**
     * Says that somebody is at it. Asked again and again while it is worked on.
     *
     * @param T $job
     *
     * @return bool whether it is still wanted
     */
    public function goesOn(Job $job): bool;

    /**
     * Does it, without the database.
     *
     * @param array<string, mixed> $what as pack() gave it
     *
     * @return array<string, mixed>|null what there is to say of what was made; null when it was not wanted any more
     */
    public function work(array $what, Bench $bench): ?array;

    /**
     * Stores what came of it; done twice it is as once.
     *
     * @param T $job
     */
    public function settle(Job $job, Outcome $outcome): void;
}
