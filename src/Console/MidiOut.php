<?php

namespace Pestle\App\Console;

use Pestle\App\Storage\Beats;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Exchange\Midi\MidiWriter;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:midi:out', 'Writes what a beat plays, or one of its sections or patterns, as a Standard MIDI File.')]
final class MidiOut extends Command
{
    public function __construct(private readonly Beats $beats)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('beat', InputArgument::REQUIRED, 'the name or the number of a beat');
        $this->addOption('out', 'o', InputOption::VALUE_REQUIRED, 'FILE.mid');
        $this->addOption('only', null, InputOption::VALUE_REQUIRED, 'the id of a section or a pattern, such as s2 or p4');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        [$name, $out, $only] = [$input->getArgument('beat'), $input->getOption('out'), $input->getOption('only')];
        try {
            if (!\is_string($out) || '' === $out) {
                throw new InvalidChange('Say where with --out=FILE.mid.');
            }
            $file = MidiWriter::of($this->beats->content($this->beats->called(\is_string($name) ? $name : '')), \is_string($only) ? $only : null);
            if (!@file_put_contents($out.'.part', $file) || !@rename($out.'.part', $out)) {
                throw new InvalidChange(\sprintf('%s cannot be written.', $out));
            }
        } catch (InvalidChange $e) {
            $output->writeln($e->getMessage(), OutputInterface::OUTPUT_RAW);

            return Command::FAILURE;
        }
        $output->writeln($out, OutputInterface::OUTPUT_RAW);

        return Command::SUCCESS;
    }
}
