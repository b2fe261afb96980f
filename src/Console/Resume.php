<?php

namespace Pestle\App\Console;

use Pestle\App\Gather\SampleStore;
use Pestle\App\Queue\Work;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:resume', 'Hands out again what was begun and has no work in the queue; done at every start.')]
final class Resume extends PestleCommand
{
    public function __construct(private readonly Work $work, private readonly SampleStore $samples)
    {
        parent::__construct();
    }

    protected function work(InputInterface $input, OutputInterface $output): int
    {
        $this->samples->settleAll();
        $count = $this->work->resume();
        if ($count > 0) {
            $output->writeln(\sprintf('%d %s went on.', $count, 1 === $count ? 'piece of work' : 'pieces of work'));
        }

        return Command::SUCCESS;
    }
}
