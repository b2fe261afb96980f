<?php

namespace Pestle\App\Console;

use Pestle\App\Shelf\KitFiles;
use Pestle\App\Shelf\KitShelf;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:kit:out', 'Carries a kit of the shelf out as a zip of an SFZ file and its samples.')]
final class KitOut extends Command
{
    public function __construct(private readonly KitFiles $files, private readonly KitShelf $shelf)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('kit', InputArgument::REQUIRED, 'Its name, or its number');
        $this->addOption('out', 'o', InputOption::VALUE_REQUIRED, 'FILE.zip');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $out = $input->getOption('out');
        $found = ShelvedSheet::of($this->shelf, $input->getArgument('kit'));
        if (null === $found || !\is_string($out)) {
            $output->writeln(null === $found ? 'There is no such kit on the shelf.' : 'Say where with --out=FILE.zip.');

            return Command::INVALID;
        }
        foreach ($this->files->out($found, $out) as $lost) {
            $output->writeln('not carried: '.$lost);
        }
        $output->writeln($out);

        return Command::SUCCESS;
    }
}
