<?php

namespace Pestle\App\Task;

use Pestle\App\Queue\Job;
use Pestle\App\Storage\DiskTrouble;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Beat\InvalidChange;
use Psr\Log\LoggerInterface;
use Symfony\Component\DependencyInjection\Attribute\TaggedLocator;
use Symfony\Contracts\Service\ServiceProviderInterface;

/** All tasks, by name. */
final readonly class Tasks
{
    private const LOST = 'It could not be made. Check that there is space on the disk, then try again.';

    /** @param ServiceProviderInterface<Task<Job>> $tasks */
    public function __construct(#[TaggedLocator('pestle.task', defaultIndexMethod: 'name')] private ServiceProviderInterface $tasks, private LoggerInterface $logger)
    {
    }

    /** @return Task<Job> */
    public function of(Portable $job): Task
    {
        return $this->tasks->get($job->task()::name());
    }

    /** @return Load|null null when it is not wanted any more, or nothing can come of it, which is settled then */
    public function pack(Portable $job): ?Load
    {
        try {
            return $this->of($job)->pack($job);
        } catch (InvalidChange $e) {
            $this->settle($job, Outcome::failed('', $e->getMessage()));

            return null;
        }
    }

    /** Stores what came of a job, or that nothing did. */
    public function settle(Portable $job, Outcome $outcome): void
    {
        try {
            $this->of($job)->settle($job, $outcome);
        } catch (\Throwable $e) {
            $this->of($job)->settle($job, $this->failed($job->key(), $outcome->folder, $e));
        }
    }

    /**
     * @param array<string, mixed> $what
     *
     * @return Outcome|null null when it was not wanted any more
     */
    public function work(string $name, array $what, Bench $bench): ?Outcome
    {
        try {
            if (!$this->tasks->has($name)) {
                throw new InvalidChange(\sprintf('This machine knows nothing of "%s": it runs another version of Pestle.', $name));
            }
            $said = $this->tasks->get($name)->work($what, $bench);

            return null === $said ? null : new Outcome($bench->folder, $said);
        } catch (InvalidChange|UnreadableAudio $e) {
            return Outcome::failed($bench->folder, $e->getMessage());
        } catch (\Throwable $e) {
            return $this->failed($name, $bench->folder, $e);
        }
    }

    private function failed(string $what, string $folder, \Throwable $e): Outcome
    {
        $this->logger->error(\sprintf('%s: %s', $what, $e->getMessage()), ['exception' => $e]);

        return Outcome::failed($folder, DiskTrouble::sentence($e) ?? self::LOST);
    }
}
