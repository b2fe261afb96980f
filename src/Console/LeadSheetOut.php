<?php

namespace Pestle\App\Console;

use Pestle\App\Storage\Beats;
use Pestle\Core\Exchange\LeadSheet;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:sheet', 'Prints a lead sheet: sections, bars, chords of the notes, and who plays.')]
final class LeadSheetOut extends PestleCommand
{
    public function __construct(private readonly Beats $beats)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('beat', InputArgument::REQUIRED, 'Name or number');
    }

    protected function work(InputInterface $input, OutputInterface $output): int
    {
        $output->write(LeadSheet::of($this->beats->content($this->beats->called(self::argument($input, 'beat')))), false, OutputInterface::OUTPUT_RAW);

        return Command::SUCCESS;
    }
}
