<?php

namespace Pestle\App\Console;

use League\Flysystem\FilesystemException;
use Pestle\App\Machines\Keeper;
use Pestle\App\Machines\MachinesSeen;
use Pestle\App\Machines\QueueAway;
use Pestle\App\Machines\Worker;
use Psr\Log\LoggerInterface;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Command\SignalableCommandInterface;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:keep', 'Sends jobs to other machines and settles what comes back; runs beside the pages where PESTLE_QUEUE names a Redis.')]
final class Keep extends PestleCommand implements SignalableCommandInterface
{
    private const IDLE_MICROSECONDS = 300_000;
    private const SEEN_SECONDS = 2.0;
    /** After so long, or with so much memory, it ends and is begun anew. */
    private const MOST_SECONDS = 3600.0;
    private const MOST_BYTES = 200_000_000;
    private bool $stopped = false;
    private string $problem = '';

    public function __construct(private readonly Keeper $keeper, private readonly Worker $worker, private readonly MachinesSeen $seen, private readonly LoggerInterface $logger)
    {
        parent::__construct();
    }

    /** @return list<int> */
    public function getSubscribedSignals(): array
    {
        return [\SIGTERM, \SIGINT];
    }

    public function handleSignal(int $signal, int|false $previousExitCode = 0): int|false
    {
        $this->stopped = true;

        return false;
    }

    protected function work(InputInterface $input, OutputInterface $output): int
    {
        $begun = microtime(true);
        $looked = 0.0;
        while (!$this->stopped && microtime(true) - $begun < self::MOST_SECONDS && memory_get_usage() < self::MOST_BYTES) {
            $moved = $this->turn();
            if (microtime(true) - $looked > self::SEEN_SECONDS) {
                $looked = microtime(true);
                $this->look();
            }
            $moved || usleep(self::IDLE_MICROSECONDS);
        }

        return Command::SUCCESS;
    }

    private function turn(): bool
    {
        try {
            $moved = $this->keeper->turn();
            $this->problem = '';

            return $moved;
        } catch (QueueAway $e) {
            $this->troubled('The queue of the other machines cannot be reached. What waits goes on when it is there again.', $e);
        } catch (FilesystemException $e) {
            $this->troubled('The files that the machines share cannot be reached. What waits goes on when they are there again.', $e);
        }

        return false;
    }

    private function troubled(string $sentence, \Throwable $e): void
    {
        $sentence === $this->problem || $this->logger->warning($sentence.' '.$e->getMessage());
        $this->problem = $sentence;
    }

    private function look(): void
    {
        try {
            $this->seen->remember($this->worker->board()->workers(), $this->problem);
        } catch (QueueAway) {
            $this->seen->remember([], $this->problem);
        }
    }
}
