<?php

namespace Pestle\App\Console;

use Pestle\App\Demo\KettleSteam;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Sound\Sound;
use Pestle\App\Storage\Beats;
use Pestle\App\Storage\DataFolder;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:demo', 'Puts the demo beat and its sounds into the library, if they are not there.')]
final class LoadDemo extends Command
{
    public function __construct(
        private readonly Beats $beats,
        private readonly SampleStore $samples,
        private readonly DataFolder $folder,
        private readonly Sound $sound,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('again', null, InputOption::VALUE_NONE, 'Add a fresh copy of the demo beat even if it is there.');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $this->samples->listenToTheRest();
        $there = $this->beats->named(KettleSteam::NAME);
        if (null !== $there && !$input->getOption('again')) {
            $output->writeln(\sprintf('The demo beat "%s" is there.', KettleSteam::NAME));

            return Command::SUCCESS;
        }
        $samples = [];
        foreach (KettleSteam::sounds(Beat::SAMPLE_RATE) as $name => $make) {
            $output->writeln('  making '.$name);
            $path = $this->folder->incoming().'/demo-'.bin2hex(random_bytes(4));
            $writer = new WavWriter($path, Beat::SAMPLE_RATE, SampleFormat::Int24);
            $writer->write($make());
            $writer->close();
            $sample = $this->samples->add($path, $name.'.wav');
            unlink($path);
            $samples[$name] = ['hash' => $sample->hash, 'frames' => $sample->frames];
        }
        $record = $this->beats->add(KettleSteam::beat($samples), true);
        // The first loop somebody hears is ready when they press Space.
        $this->sound->ask(['op' => 'loop', 'beat' => BeatCodec::encode($this->beats->content($record)), 'pattern' => 'p1']);
        $output->writeln(\sprintf('The demo beat "%s" is ready.', KettleSteam::NAME));

        return Command::SUCCESS;
    }
}
