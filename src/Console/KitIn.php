<?php

namespace Pestle\App\Console;

use Pestle\App\Shelf\KitFiles;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:kit:in', 'Brings a kit or an instrument onto the shelf from an SFZ file with its samples, or a zip of them.')]
final class KitIn extends PestleCommand
{
    public function __construct(private readonly KitFiles $files)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('file', InputArgument::REQUIRED, 'FILE.sfz, with its samples where it says they are, or FILE.zip');
        $this->addOption('as', null, InputOption::VALUE_REQUIRED, 'kit or keys; without it the likelier of the two');
        $this->addOption('with', null, InputOption::VALUE_REQUIRED | InputOption::VALUE_IS_ARRAY, 'FOLDER whose files it may name, beside those of its own folder; may be said several times');
        $this->setHelp('Prints what each holds and, indented, what it could not carry. Exits with 1 when nothing came in.');
    }

    protected function work(InputInterface $input, OutputInterface $output): int
    {
        $file = self::argument($input, 'file');
        $as = self::option($input, 'as');
        if (!\in_array($as, ['', 'kit', 'keys'], true)) {
            throw new WronglyAsked('--as is kit or keys.');
        }
        $came = $this->files->in($file, basename($file), $as, null, self::folders($input));
        foreach ($came as [$kit, $sheet, $told]) {
            $output->writeln(null === $sheet->keys
                ? \sprintf('%d  %s: a kit of %d pads with %d sounds from %d samples', $kit->id, $kit->name, \count($sheet->pads), \count($sheet->sounds()), \count($sheet->samples()))
                : \sprintf('%d  %s: an instrument of %d recorded notes from %d samples', $kit->id, $kit->name, \count($sheet->keys->zones), \count($sheet->samples())));
            foreach ($sheet->pads as $pad) {
                $output->writeln(\sprintf('   %s  %s, %s: %s', $pad->id, $pad->name, strtolower($pad->role->label()), 1 === \count($pad->layers) ? 'one sound' : \count($pad->layers).' sounds, '.strtolower($pad->answer->label())));
            }
            foreach ($sheet->keys->zones ?? [] as $zone) {
                $output->writeln(\sprintf('   %d to %d  %s, root %.2f, strengths %d to %d', $zone->lowKey, $zone->highKey, $zone->sound->name, $zone->rootCents / 100, $zone->sound->low, $zone->sound->high));
            }
            foreach ($told as $line) {
                $output->writeln('   not carried: '.$line);
            }
        }

        return Command::SUCCESS;
    }

    /** @return list<string> */
    private static function folders(InputInterface $input): array
    {
        $with = $input->getOption('with');

        return \is_array($with) ? array_values(array_filter($with, is_string(...))) : [];
    }
}
