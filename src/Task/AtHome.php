<?php

namespace Pestle\App\Task;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Queue\Work;
use Pestle\App\Storage\DataFolder;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;

/** Does a job on this machine, from what it needs to what it becomes. */
#[AsMessageHandler]
final readonly class AtHome
{
    private const TOLD_SECONDS = 0.25;

    public function __construct(private Tasks $tasks, private SampleStore $samples, private Work $work, private DataFolder $folder, private EntityManagerInterface $entities)
    {
    }

    public function __invoke(Portable $job): void
    {
        $this->entities->clear();
        $task = $this->tasks->of($job);
        $load = $this->tasks->pack($job);
        if (null === $load || !$task->goesOn($job)) {
            return;
        }
        $files = new Filesystem();
        $folder = $load->folder ?? $this->folder->scratch($job->key());
        null === $load->folder && $files->remove($folder);
        $files->mkdir($folder, 0o700);
        $told = 0.0;
        $bench = new Bench($this->samples->library(), $folder, function (float $progress) use ($job, $task, &$told): bool {
            if (microtime(true) - $told < self::TOLD_SECONDS) {
                return true;
            }
            $told = microtime(true);
            $this->work->tell($job, $progress);

            return $task->goesOn($job);
        });
        $outcome = $this->tasks->work($task::name(), $load->what, $bench);
        null === $outcome || $this->tasks->settle($job, $outcome);
        null === $load->folder && $files->remove($folder);
    }
}
