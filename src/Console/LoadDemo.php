<?php

namespace Pestle\App\Console;

use Pestle\App\Demo\Demo;
use Pestle\App\Demo\KettleSteam;
use Pestle\App\Demo\RainOnTin;
use Pestle\App\Demo\TramAtTen;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Sound\Sound;
use Pestle\App\Storage\Beats;
use Pestle\Core\Beat\BeatCodec;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\HttpKernel\Exception\ServiceUnavailableHttpException;

#[AsCommand('pestle:demo', 'Puts the demo beats, their kits and sounds into Pestle, as far as they are not there.')]
final class LoadDemo extends PestleCommand
{
    public function __construct(
        private readonly Demo $demo,
        private readonly Beats $beats,
        private readonly SampleStore $samples,
        private readonly Sound $sound,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('beat', InputArgument::OPTIONAL, 'Only this beat, without the kits of the shelf');
        $this->addOption('again', null, InputOption::VALUE_NONE, 'Add fresh copies of the demo beats even if they are there.');
    }

    protected function work(InputInterface $input, OutputInterface $output): int
    {
        $this->samples->listenToTheRest();
        $only = $input->getArgument('beat');
        $say = static function (string $line) use ($output): void { $output->writeln($line); };
        foreach ([KettleSteam::NAME => $this->demo->kettleSteam(...), TramAtTen::NAME => $this->demo->tramAtTen(...), RainOnTin::NAME => $this->demo->rainOnTin(...)] as $name => $make) {
            if (null !== $only && $only !== $name) {
                continue;
            }
            if (null !== $this->beats->named($name) && !$input->getOption('again')) {
                $output->writeln(\sprintf('The demo beat "%s" is there.', $name));
                continue;
            }
            $record = $make($say);
            $beat = $this->beats->content($record);
            // The first loop somebody hears is ready when they press Space; where it takes too long it is made then.
            try {
                $this->sound->ask(['op' => 'loop', 'beat' => BeatCodec::encode($beat), 'what' => array_values($beat->song)[1]->section ?? '']);
            } catch (ServiceUnavailableHttpException) {
            }
            $output->writeln(\sprintf('The demo beat "%s" is ready.', $name));
        }
        if (null === $only && $this->demo->lacksKits()) {
            $this->demo->kits(static function (string $what): void {});
        }

        return Command::SUCCESS;
    }
}
