<?php

namespace Pestle\App\Console;

use Pestle\App\Storage\Beats;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Parameters;
use Pestle\Core\Beat\Setting;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:set', 'Sets a parameter of a beat by its path and says what it was. Without a value it says what it is; without a path it lists them all.')]
final class SetParameter extends PestleCommand
{
    public function __construct(private readonly Beats $beats)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('beat', InputArgument::REQUIRED, 'the name or the number of a beat');
        $this->addArgument('path', InputArgument::OPTIONAL, 'such as "tempo", "kit/a3/levelDb" or "mixer/c1/inserts/i2/thresholdDb"; the beginning of one lists those');
        $this->addArgument('value', InputArgument::OPTIONAL, 'a number in the unit that is listed, on or off, or one of the choices');
    }

    protected function work(InputInterface $input, OutputInterface $output): int
    {
        [$path, $value] = [self::argument($input, 'path'), $input->getArgument('value')];
        $record = $this->beats->called(self::argument($input, 'beat'));
        $beat = $this->beats->content($record);
        if (\is_string($value)) {
            $was = Parameters::at($beat, $path);
            $this->beats->change($record, $record->head, bin2hex(random_bytes(12)), Changes::read(['type' => 'set', $path => $value]));
            $is = Parameters::at($this->beats->content($record), $path);
            $output->writeln(\sprintf('%s of %s: %s (it was %s)', $is->parameter->name, $is->owner, $is->parameter->show($is->value), $was->parameter->show($was->value)), OutputInterface::OUTPUT_RAW);
        } else {
            $output->writeln(self::lines($beat, $path), OutputInterface::OUTPUT_RAW);
        }

        return Command::SUCCESS;
    }

    /**
     * @return list<string>
     *
     * @throws InvalidChange when nothing begins so
     */
    private static function lines(Beat $beat, string $begin): array
    {
        $settings = array_filter(Parameters::all($beat), static fn (Setting $s): bool => str_starts_with($s->path, $begin));
        if ([] === $settings) {
            throw new InvalidChange(\sprintf('No parameter of this beat begins with %s.', $begin));
        }

        return array_values(array_map(static fn (Setting $s): string => \sprintf('%-48s %-14s %s of %s%s', $s->path, $s->parameter->show($s->value), $s->parameter->name, $s->owner, self::range($s)), $settings));
    }

    private static function range(Setting $setting): string
    {
        $p = $setting->parameter;

        return match (true) {
            null !== $p->choice => ' ('.implode(', ', array_map(static fn (\BackedEnum $c): string => (string) $c->value, $p->choice::cases())).')',
            \is_bool($p->default) => '',
            default => \sprintf(' (%s to %s)', $p->show($p->least), $p->show($p->most)),
        };
    }
}
