<?php

namespace Pestle\App\Console;

use Pestle\App\Carry\Packing;
use Pestle\App\Storage\Beats;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:beat:out', 'Packs a beat with its sounds, kits and mixes into one file for another Pestle.')]
final class BeatOut extends PestleCommand
{
    public function __construct(private readonly Packing $packing, private readonly Beats $beats)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('beat', InputArgument::REQUIRED, 'Name or number');
        $this->addOption('out', 'o', InputOption::VALUE_REQUIRED, 'FILE.zip');
    }

    protected function work(InputInterface $input, OutputInterface $output): int
    {
        $out = OutFile::at(self::option($input, 'out'), 'FILE.zip');
        $record = $this->beats->called(self::argument($input, 'beat'));
        $out->make(fn (string $path) => $this->packing->beat($record, $record->head, $path, static fn (float $share) => null));
        $out->say($output);

        return Command::SUCCESS;
    }
}
