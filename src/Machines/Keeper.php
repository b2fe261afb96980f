<?php

namespace Pestle\App\Machines;

use Doctrine\ORM\EntityManagerInterface;
use League\Flysystem\FilesystemException;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Queue\JobTable;
use Pestle\App\Queue\Work;
use Pestle\App\Storage\DataFolder;
use Pestle\App\Task\Load;
use Pestle\App\Task\Outcome;
use Pestle\App\Task\Portable;
use Pestle\App\Task\Tasks;
use Pestle\Core\Beat\InvalidChange;
use Psr\Log\LoggerInterface;
use Symfony\Component\Filesystem\Filesystem;

/**
 * Keeps the jobs of this machine that others do: sends them out with all they need, sees who is at them, calls off what is
 * not wanted any more, settles what came back. The table of jobs is the truth: what it holds and the queue has lost goes out
 * again, and what comes back for no job is thrown away.
 */
final class Keeper
{
    /** Reports at a turn. */
    private const MOST_REPORTS = 50;
    private readonly string $home;

    public function __construct(
        private readonly Worker $worker,
        private readonly SharedFiles $files,
        private readonly JobTable $jobs,
        private readonly Work $work,
        private readonly Tasks $tasks,
        private readonly SampleStore $samples,
        private readonly DataFolder $folder,
        private readonly EntityManagerInterface $entities,
        private readonly LoggerInterface $logger,
    ) {
        $this->home = hash_hmac('sha256', 'home', $folder->secret());
    }

    /**
     * @return bool whether anything was done
     *
     * @throws QueueAway           where the queue cannot be reached; what was begun is gone on with at the next turn
     * @throws FilesystemException where the shared files cannot
     */
    public function turn(): bool
    {
        $this->entities->clear();
        $out = $this->worker->board()->out($this->home);
        $jobs = $this->work->elsewhere();
        foreach (array_diff_key($out, $jobs) as $id => $_) {
            // Called off, put aside, or settled by a keeper that ended before it could say so.
            $this->forget($id);
        }
        $moved = false;
        foreach ($jobs as $id => [$lane, $job]) {
            if (!isset($out[$id])) {
                $this->send($id, $lane, $job);
                $moved = true;
            } elseif (null !== $out[$id][0] && !$this->tasks->of($job)->goesOn($job)) {
                $this->jobs->remove($id);
                $this->forget($id);
            } else {
                $this->jobs->isAt($id, ...$out[$id]);
            }
        }

        return $this->settleAll($jobs) || $moved;
    }

    private function send(int $id, string $lane, Portable $job): void
    {
        $load = $this->tasks->pack($job);
        if (null === $load) {
            $this->jobs->remove($id);

            return;
        }
        try {
            $errand = new Errand($this->home, (string) $id, $lane, $this->tasks->of($job)::name(), $load->what, $this->sums($load));
        } catch (InvalidChange $e) {
            $this->tasks->settle($job, Outcome::failed('', $e->getMessage()));
            $this->jobs->remove($id);

            return;
        }
        $this->worker->board()->send($errand);
    }

    /** @return array<string, string> by hash */
    private function sums(Load $load): array
    {
        $library = $this->samples->library();
        $sums = [];
        foreach ($load->samples as $hash) {
            $sums[$hash] = $this->files->putSample($library->path($hash));
        }

        return $sums;
    }

    /** @param array<int, array{string, Portable}> $jobs */
    private function settleAll(array $jobs): bool
    {
        $stream = $this->worker->reports($this->home);
        for ($n = 0; $n < self::MOST_REPORTS && null !== $next = $stream->next(); ++$n) {
            [$entry, $body] = $next;
            try {
                $report = Report::fromJson($body);
                $id = (int) $report->id;
                isset($jobs[$id]) && $this->settle($id, $jobs[$id][1], $report);
                // Whoever else did it comes too late.
                unset($jobs[$id]);
                $this->forget($id);
            } catch (InvalidChange $e) {
                $this->logger->error('What came back from another machine is no report: '.$e->getMessage());
            }
            $stream->done($entry, 0.0);
        }

        return $n > 0;
    }

    private function settle(int $id, Portable $job, Report $report): void
    {
        if ($report->givenUp) {
            $this->jobs->putAside($id);

            return;
        }
        $folder = $this->folder->scratch($job->key());
        $files = new Filesystem();
        $files->remove($folder);
        $files->mkdir($folder, 0o700);
        try {
            $this->files->fetchAll($report->files, $report->place, $folder);
            $outcome = null === $report->trouble ? new Outcome($folder, $report->said) : Outcome::failed($folder, $report->trouble);
            $this->tasks->settle($job, $outcome);
            $this->jobs->remove($id);
        } catch (InvalidChange $e) {
            // Its files are gone or not whole: it goes out again.
            $this->logger->warning('What another machine made did not come: '.$e->getMessage());
        } finally {
            $files->remove($folder);
        }
    }

    private function forget(int $id): void
    {
        $this->worker->board()->forget($this->home, $id);
        $this->files->clear('errands/'.$this->home.'/'.$id);
    }
}
