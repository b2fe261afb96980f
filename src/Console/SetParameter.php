<?php

namespace Pestle\App\Console;

use Pestle\App\Storage\Beats;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Parameters;
use Pestle\Core\Beat\Setting;
use Pestle\Core\Song\Movement;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
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
        $this->addOption('json', null, InputOption::VALUE_NONE, 'a JSON list of objects: path, name, of, value, unit, least, most, choices, moves, still (why it does not move), movements (where it moves)');
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
            $settings = self::found($beat, $path);
            $output->writeln($input->getOption('json') ? BeatCodec::json(array_map(static fn (Setting $s): array => self::told($beat, $s), $settings)) : array_map(self::line(...), $settings), OutputInterface::OUTPUT_RAW);
        }

        return Command::SUCCESS;
    }

    /**
     * @return non-empty-list<Setting>
     *
     * @throws InvalidChange when nothing begins so
     */
    private static function found(Beat $beat, string $begin): array
    {
        return array_values(array_filter(Parameters::all($beat), static fn (Setting $s): bool => str_starts_with($s->path, $begin)))
            ?: throw new InvalidChange(\sprintf('No parameter of this beat begins with %s.', $begin));
    }

    private static function line(Setting $s): string
    {
        return \sprintf('%-48s %-14s %s of %s%s', $s->path, $s->parameter->show($s->value), $s->parameter->name, $s->owner, self::range($s));
    }

    /** @return array<string, mixed> */
    private static function told(Beat $beat, Setting $setting): array
    {
        $p = $setting->parameter;
        $number = null === $p->choice && !\is_bool($p->default);

        return [
            'path' => $setting->path,
            'name' => $p->name,
            'of' => $setting->owner,
            'value' => $setting->value,
            'unit' => $p->unit,
            'least' => $number ? $p->least : null,
            'most' => $number ? $p->most : null,
            'choices' => $p->options(),
            'moves' => $p->moves,
            'still' => $p->whyNot(),
            'movements' => array_values(array_map(static fn (Movement $m): string => $m->id(), $beat->movements->only(static fn (Movement $m): bool => $m->path === $setting->path)->all)),
        ];
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
