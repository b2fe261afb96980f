<?php

namespace Pestle\App\Console;

use Pestle\App\Gather\SampleStore;
use Pestle\Core\Audio\UnreadableAudio;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:import', 'Takes sound files into the library. Prints hash and name of each, one a line.')]
final class ImportFiles extends PestleCommand
{
    public function __construct(private readonly SampleStore $samples)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('file', InputArgument::REQUIRED | InputArgument::IS_ARRAY, 'WAV, AIFF, FLAC, MP3 or Ogg files');
        $this->setHelp('Exits with 0 when all files came in, 1 when one did not; each of those is named on the error output.');
    }

    protected function work(InputInterface $input, OutputInterface $output): int
    {
        $errors = self::errors($output);
        $failed = 0;
        /** @var list<string> $files */
        $files = $input->getArgument('file');
        foreach ($files as $file) {
            try {
                if (!is_file($file)) {
                    throw UnreadableAudio::because($file, 'there is no such file.');
                }
                $sample = $this->samples->add($file, basename($file));
                $output->writeln($sample->hash.'  '.$sample->name, OutputInterface::OUTPUT_RAW);
            } catch (UnreadableAudio $e) {
                ++$failed;
                $errors->writeln($e->getMessage(), OutputInterface::OUTPUT_RAW);
            }
        }

        return 0 === $failed ? Command::SUCCESS : Command::FAILURE;
    }
}
