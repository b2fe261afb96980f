<?php

namespace Pestle\App\Console;

use Pestle\App\Storage\Beats;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Exchange\Midi\MidiFile;
use Pestle\Core\Exchange\Midi\MidiLanding;
use Pestle\Core\Exchange\Midi\UnreadableMidi;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:midi:in', 'Brings a MIDI file into a beat: drums onto its kit by roles, other tracks onto its instruments.')]
final class MidiIn extends PestleCommand
{
    public function __construct(private readonly Beats $beats)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('beat', InputArgument::REQUIRED, 'Its name, or its number');
        $this->addArgument('file', InputArgument::REQUIRED, 'FILE.mid');
        $this->addOption('tempo', 't', InputOption::VALUE_NONE, 'Take its tempo and meter as well');
    }

    protected function work(InputInterface $input, OutputInterface $output): int
    {
        $path = self::argument($input, 'file');
        if (!is_file($path)) {
            throw new UnreadableMidi(\sprintf('%s is not there.', $path));
        }
        $record = $this->beats->called(self::argument($input, 'beat'));
        [$fields, $told] = MidiLanding::of(MidiFile::read((string) file_get_contents($path), basename($path)), $this->beats->content($record), (bool) $input->getOption('tempo'));
        foreach ($told as $lost) {
            $output->writeln('not carried: '.$lost, OutputInterface::OUTPUT_RAW);
        }
        $change = Changes::read($fields ?? throw new UnreadableMidi(\sprintf('Nothing of %s finds a place in this beat.', basename($path))));
        $before = $this->beats->content($record)->patterns;
        $this->beats->change($record, $record->head, bin2hex(random_bytes(12)), $change);
        $beat = $this->beats->content($record);
        foreach (array_diff_key($beat->patterns, $before) as $pattern) {
            $output->writeln(\sprintf('%s, %s: %d notes', $beat->part($pattern->part)->name, $pattern->name, \count($pattern->hits) + \count($pattern->notes)), OutputInterface::OUTPUT_RAW);
        }

        return Command::SUCCESS;
    }
}
