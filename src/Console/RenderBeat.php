<?php

namespace Pestle\App\Console;

use Pestle\App\Gather\SampleStore;
use Pestle\App\Storage\Beats;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Exchange\DeliveryOrder;
use Pestle\Core\Exchange\DeliveryWriter;
use Pestle\Core\Exchange\StemGrouping;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Section;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\ConsoleOutputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:render', 'Renders a beat, or one of its sections or patterns, to a WAV file, with stems if wished.')]
final class RenderBeat extends Command
{
    public function __construct(private readonly Beats $beats, private readonly SampleStore $samples)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('beat', InputArgument::REQUIRED, 'the name or the number of a beat');
        $this->addOption('out', null, InputOption::VALUE_REQUIRED, 'the WAV file to write');
        $this->addOption('stems', null, InputOption::VALUE_REQUIRED, 'a folder for stems');
        $this->addOption('section', null, InputOption::VALUE_REQUIRED, 'only this section, by name or id');
        $this->addOption('pattern', null, InputOption::VALUE_REQUIRED, 'only this pattern, by name or id');
        $this->addOption('loop', null, InputOption::VALUE_NONE, 'the section or pattern as it sounds when it goes round');
        $this->addOption('format', null, InputOption::VALUE_REQUIRED, '16, 24 or 32f', '24');
        $this->addOption('by', null, InputOption::VALUE_REQUIRED, 'stems by part, channel, group or pad', 'channel');
        $this->addOption('lower', null, InputOption::VALUE_REQUIRED, 'lower mix and stems by so many dB, 0 to 24', '0');
        $this->addOption('dither', null, InputOption::VALUE_NONE, 'add dither to 16 and 24 bit');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $errors = $output instanceof ConsoleOutputInterface ? $output->getErrorOutput() : $output;
        try {
            $made = $this->render($input);
            foreach ($made as $path) {
                $output->writeln($path);
            }

            return Command::SUCCESS;
        } catch (InvalidChange|UnreadableAudio|\RuntimeException $e) {
            $errors->writeln($e->getMessage());

            return Command::FAILURE;
        }
    }

    /** @return list<string> */
    private function render(InputInterface $input): array
    {
        $text = static fn (string $option): string => \is_string($value = $input->getOption($option)) ? $value : '';
        if ('' === $text('out')) {
            throw new InvalidChange('Say where to write with --out=FILE.');
        }
        $beat = $this->beats->content($this->beats->called(\is_string($name = $input->getArgument('beat')) ? $name : ''));
        $format = SampleFormat::tryFrom($text('format'));
        $grouping = StemGrouping::tryFrom($text('by'));
        if (null === $format || !isset(DeliveryOrder::FORMATS[$format->value])) {
            throw InvalidChange::field('--format', 'must be 16, 24 or 32f.');
        }
        if (null === $grouping || StemGrouping::Own === $grouping) {
            throw InvalidChange::field('--by', 'must be part, channel, group or pad.');
        }
        $folder = '' === $text('stems') ? null : $text('stems');
        if (null !== $folder && !is_dir($folder) && !@mkdir($folder, 0o777, true)) {
            throw new InvalidChange(\sprintf('The folder %s cannot be made.', $folder));
        }
        $lower = $text('lower');
        if (!ctype_digit($lower) || (int) $lower > DeliveryOrder::MOST_LOWER_DB) {
            throw InvalidChange::field('--lower', 'must be a whole number from 0 to 24.');
        }
        $order = new DeliveryOrder(self::named($beat->sections, $text('section'), 'section') ?? self::named($beat->patterns, $text('pattern'), 'pattern'), (bool) $input->getOption('loop'), $format, null === $folder ? StemGrouping::None : $grouping, (bool) $input->getOption('dither'), (int) $lower, ownReturns: true);

        return (new DeliveryWriter($this->samples->library()))->write($beat, $order, $text('out'), $folder ?? '', static fn (float $progress): bool => true)->paths ?? [];
    }

    /** @param array<string, Section|Pattern> $all */
    private static function named(array $all, string $name, string $kind): ?string
    {
        if ('' === $name) {
            return null;
        }
        foreach ($all as $one) {
            if ($one->id === $name || $one->name === $name) {
                return $one->id;
            }
        }

        throw new InvalidChange(\sprintf('There is no %s named "%s" in this beat. There are: %s.', $kind, $name, implode(', ', array_map(static fn (Section|Pattern $one): string => $one->name, $all))));
    }
}
