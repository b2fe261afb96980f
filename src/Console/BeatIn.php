<?php

namespace Pestle\App\Console;

use Pestle\App\Carry\Unpacking;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:beat:in', 'Brings in what pestle:beat:out or pestle:library:out packed.')]
final class BeatIn extends PestleCommand
{
    public function __construct(private readonly Unpacking $unpacking)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('file', InputArgument::REQUIRED, 'FILE.zip');
        $this->setHelp('Prints number and name of each beat, and what came in. What is there already is not taken twice. Exits with 1 where the file is damaged; then nothing of it was taken in.');
    }

    protected function work(InputInterface $input, OutputInterface $output): int
    {
        $file = self::argument($input, 'file');
        if (!is_file($file)) {
            throw new WronglyAsked(\sprintf('%s is not there.', $file));
        }
        $came = $this->unpacking->in($file, basename($file), static fn (float $share) => null);
        foreach ($came->beats as [$record, $isNew]) {
            $output->writeln(\sprintf('%d  %s%s', $record->id, $record->name, $isNew ? '' : ', which was there already'), OutputInterface::OUTPUT_RAW);
        }
        $output->writeln($came->sentence(), OutputInterface::OUTPUT_RAW);

        return Command::SUCCESS;
    }
}
