<?php

namespace Pestle\App\Machines;

use League\Flysystem\FilesystemException;
use Pestle\App\Storage\DataFolder;
use Pestle\App\Task\Bench;
use Pestle\App\Task\Outcome;
use Pestle\App\Task\Tasks;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Render\SampleLibrary;
use Psr\Log\LoggerInterface;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;

/** Does the errand of another machine: fetches what it needs, does it, brings back what came of it. */
#[AsMessageHandler]
final readonly class DoErrand
{
    private const MOST_TRIES = 3;
    private const TOLD_SECONDS = 0.5;
    private const PAUSE_MICROSECONDS = 1_000_000;
    /** For what must not be lost, seconds. */
    private const PATIENCE = 600.0;

    public function __construct(private Worker $worker, private Tasks $tasks, private SharedFiles $files, private KeptSamples $kept, private DataFolder $folder, private LoggerInterface $logger)
    {
    }

    public function __invoke(Errand $errand): void
    {
        $this->worker->at($errand, function () use ($errand): void {
            if (!$this->goesOn($errand, 0.0)) {
                return;
            }
            $folder = $this->folder->scratch('errand '.$errand->home.' '.$errand->id);
            $files = new Filesystem();
            $files->remove($folder);
            $files->mkdir($folder, 0o700);
            $report = $errand->tries > self::MOST_TRIES ? new Report($errand->id, givenUp: true) : $this->report($errand, $folder);
            null === $report || $this->worker->reports($errand->home)->add($report->toJson(), self::PATIENCE);
            $files->remove($folder);
            $this->kept->bound();
        });
    }

    /** @return Report|null null when it is not wanted any more */
    private function report(Errand $errand, string $folder): ?Report
    {
        $told = microtime(true);
        $library = new SampleLibrary($this->folder->fetched(), $this->folder->edited());
        $bench = new Bench($library, $folder, function (float $progress) use ($errand, &$told): bool {
            if (microtime(true) - $told < self::TOLD_SECONDS) {
                return true;
            }
            $told = microtime(true);

            return $this->goesOn($errand, $progress);
        });
        try {
            $come = $this->patiently($errand, fn () => $this->kept->fetch($errand->samples, $library));
        } catch (InvalidChange $e) {
            return new Report($errand->id, trouble: $e->getMessage());
        }
        $outcome = null === $come ? null : $this->tasks->work($errand->task, $errand->what, $bench);
        if (null === $outcome || null !== $outcome->trouble) {
            return null === $outcome ? null : new Report($errand->id, trouble: $outcome->trouble);
        }

        return $this->brought($errand, $outcome);
    }

    private function brought(Errand $errand, Outcome $outcome): ?Report
    {
        // Two who are at the same errand do not write into one another's files.
        $place = 'errands/'.$errand->home.'/'.$errand->id.'/'.bin2hex(random_bytes(6));
        $sums = $this->patiently($errand, fn (): array => $this->files->putAll($outcome->folder, $place));

        return null === $sums ? null : new Report($errand->id, $place, $sums, $outcome->said);
    }

    /**
     * Until it works, or the errand is not wanted any more.
     *
     * @template T
     *
     * @param \Closure(): T $do
     *
     * @return T|null
     */
    private function patiently(Errand $errand, \Closure $do): mixed
    {
        while (true) {
            try {
                return $do();
            } catch (FilesystemException $e) {
                $this->logger->warning('The shared files cannot be reached: '.$e->getMessage());
            }
            usleep(self::PAUSE_MICROSECONDS);
            if (!$this->goesOn($errand, 0.0)) {
                return null;
            }
        }
    }

    private function goesOn(Errand $errand, float $progress): bool
    {
        try {
            return $this->worker->board()->tell($errand, $this->worker->name(), $progress);
        } catch (QueueAway) {
            // Whether it is wanted nobody can say now; what is made waits for it.
            return true;
        }
    }
}
