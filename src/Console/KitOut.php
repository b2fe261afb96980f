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
final class KitOut extends PestleCommand
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

    protected function work(InputInterface $input, OutputInterface $output): int
    {
        $out = OutFile::at(self::option($input, 'out'), 'FILE.zip');
        $found = ShelvedSheet::of($this->shelf, self::argument($input, 'kit'));
        foreach ($out->make(fn (string $path): array => $this->files->out($found, $path)) as $lost) {
            self::errors($output)->writeln('not carried: '.$lost, OutputInterface::OUTPUT_RAW);
        }
        $out->say($output);

        return Command::SUCCESS;
    }
}
