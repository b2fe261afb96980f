<?php

namespace Pestle\App\Console;

use Pestle\App\Storage\Beats;
use Pestle\Core\Exchange\Midi\MidiWriter;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:midi:out', 'Writes what a beat plays, or one of its sections or patterns, as a Standard MIDI File.')]
final class MidiOut extends PestleCommand
{
    public function __construct(private readonly Beats $beats)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('beat', InputArgument::REQUIRED, 'the name or the number of a beat');
        $this->addOption('out', 'o', InputOption::VALUE_REQUIRED, 'FILE.mid');
        $this->addOption('written', null, InputOption::VALUE_NONE, 'as it is written, without feel and chance');
        $this->addOption('only', null, InputOption::VALUE_REQUIRED, 'a section or a pattern, by name or id');
    }

    protected function work(InputInterface $input, OutputInterface $output): int
    {
        $out = OutFile::at(self::option($input, 'out'), 'FILE.mid');
        $beat = $this->beats->content($this->beats->called(self::argument($input, 'beat')));
        $only = '' === self::option($input, 'only') ? null : Named::in([...array_values($beat->sections), ...array_values($beat->patterns)], self::option($input, 'only'), 'section or pattern');
        $written = (bool) $input->getOption('written');
        $out->make(static function (string $path) use ($beat, $only, $written): void {
            if (false === @file_put_contents($path.'.part', MidiWriter::of($beat, $only, $written)) || !@rename($path.'.part', $path)) {
                throw CannotWrite::to($path, 'check the folder and its rights');
            }
        });
        $out->say($output);

        return Command::SUCCESS;
    }
}
