<?php

namespace Pestle\App\Console;

use Pestle\App\Entity\BeatRecord;
use Pestle\App\Entity\Sample;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Shelf\KitShelf;
use Pestle\App\Storage\Beats;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:list', 'Lists beats, kits of the shelf or samples of the library, one a line: number or hash, and name.')]
final class ListAll extends PestleCommand
{
    private const MOST_KITS = 100_000;

    public function __construct(private readonly Beats $beats, private readonly KitShelf $kits, private readonly SampleStore $samples)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('what', InputArgument::OPTIONAL, 'beats, kits or samples', 'beats');
        $this->addOption('json', null, InputOption::VALUE_NONE, 'a JSON list of objects');
    }

    protected function work(InputInterface $input, OutputInterface $output): int
    {
        $rows = match (self::argument($input, 'what')) {
            'beats' => array_map(static fn (BeatRecord $b): array => ['id' => $b->id, 'name' => $b->name, 'bpm' => $b->tempo, 'key' => $b->key], $this->beats->all()),
            'kits' => array_map(static fn (array $k): array => ['id' => $k['kit']->id, 'name' => $k['kit']->name, 'version' => $k['version']->number], $this->kits->found('', self::MOST_KITS)[0]),
            'samples' => array_map(static fn (Sample $s): array => ['hash' => $s->hash, 'name' => $s->name, 'kind' => $s->kind(), 'role' => $s->role()->value, 'seconds' => round($s->seconds(), 3)], $this->samples->all()),
            default => throw new WronglyAsked('Say which: beats, kits or samples.'),
        };
        if ($input->getOption('json')) {
            $output->writeln(json_encode($rows, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE), OutputInterface::OUTPUT_RAW);
        } else {
            foreach ($rows as $row) {
                $output->writeln(implode('  ', array_map(strval(...), array_filter($row, static fn (mixed $v): bool => null !== $v))), OutputInterface::OUTPUT_RAW);
            }
        }

        return Command::SUCCESS;
    }
}
