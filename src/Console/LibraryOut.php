<?php

namespace Pestle\App\Console;

use Pestle\App\Carry\Packing;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:library:out', 'Packs all beats, samples, kits and grooves into one file for another Pestle.')]
final class LibraryOut extends PestleCommand
{
    public function __construct(private readonly Packing $packing)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('out', 'o', InputOption::VALUE_REQUIRED, 'FILE.zip');
        $this->setHelp('Beats are packed as they are now, kits in their newest version. pestle:beat:in brings it in.');
    }

    protected function work(InputInterface $input, OutputInterface $output): int
    {
        $out = OutFile::at(self::option($input, 'out'), 'FILE.zip');
        $out->make(fn (string $path) => $this->packing->library($path, static fn (float $share) => null));
        $out->say($output);

        return Command::SUCCESS;
    }
}
