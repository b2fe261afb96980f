<?php

namespace Pestle\App\Console;

use Pestle\App\Gather\SampleStore;
use Pestle\App\Storage\Beats;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Exchange\DeliveryOrder;
use Pestle\Core\Exchange\DeliveryWriter;
use Pestle\Core\Exchange\StemGrouping;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:render', 'Renders a beat, or one of its sections or patterns, to a WAV file, with stems if wished.')]
final class RenderBeat extends PestleCommand
{
    public function __construct(private readonly Beats $beats, private readonly SampleStore $samples)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('beat', InputArgument::REQUIRED, 'the name or the number of a beat');
        $this->addOption('out', null, InputOption::VALUE_REQUIRED, 'the WAV file to write; - for standard output');
        $this->addOption('stems', null, InputOption::VALUE_REQUIRED, 'a folder for stems');
        $this->addOption('section', null, InputOption::VALUE_REQUIRED, 'only this section, by name or id');
        $this->addOption('pattern', null, InputOption::VALUE_REQUIRED, 'only this pattern, by name or id');
        $this->addOption('bars', null, InputOption::VALUE_REQUIRED, 'only these bars of the song, as they sound there: 5-8');
        $this->addOption('loop', null, InputOption::VALUE_NONE, 'the section, pattern or bars as they sound when they go round');
        $this->addOption('cut', null, InputOption::VALUE_NONE, 'without what rings on behind the last bar');
        $this->addOption('trim', null, InputOption::VALUE_NONE, 'without silence before and after');
        $this->addOption('format', null, InputOption::VALUE_REQUIRED, '16, 24 or 32f', '24');
        $this->addOption('by', null, InputOption::VALUE_REQUIRED, 'stems by part, channel, group or pad', 'channel');
        $this->addOption('lower', null, InputOption::VALUE_REQUIRED, 'lower mix and stems by so many dB, 0 to 24', '0');
        $this->addOption('dither', null, InputOption::VALUE_OPTIONAL, 'add dither to 16 and 24 bit; --dither=shaped moves it to where ears hear least', false);
        $this->addOption('rate', null, InputOption::VALUE_REQUIRED, 'in Hz: '.implode(', ', DeliveryOrder::RATES), (string) Beat::SAMPLE_RATE);
        $this->addOption('peak', null, InputOption::VALUE_REQUIRED, 'raise or lower mix and stems until the highest true peak is at so many dBTP');
        $this->addOption('lufs', null, InputOption::VALUE_REQUIRED, 'raise or lower mix and stems to a loudness, never over -1 dBTP');
    }

    protected function work(InputInterface $input, OutputInterface $output): int
    {
        $out = OutFile::at(self::option($input, 'out'), 'FILE.wav');
        $made = $out->make(fn (string $path): array => $this->render($input, $path));
        foreach (\array_slice($made, 1) as $stem) {
            OutFile::share($stem);
        }
        $out->say($output, '', ...\array_slice($made, 1));

        return Command::SUCCESS;
    }

    /** @return list<string> */
    private function render(InputInterface $input, string $out): array
    {
        $text = static fn (string $option): string => self::option($input, $option);
        $beat = $this->beats->content($this->beats->called(self::argument($input, 'beat')));
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
        $what = '' !== $text('section') ? Named::in($beat->sections, $text('section'), 'section') : ('' !== $text('pattern') ? Named::in($beat->patterns, $text('pattern'), 'pattern') : 'beat');
        $bars = [];
        if ('' !== $text('bars') && ('beat' !== $what || 1 !== preg_match('/^(\d{1,5})(?:-(\d{1,5}))?$/D', $text('bars'), $bars))) {
            throw InvalidChange::field('--bars', 'names bars of the song, as 5-8, and goes with neither --section nor --pattern.');
        }
        $dither = $input->getOption('dither');
        $level = array_filter(['peak' => $text('peak'), 'lufs' => $text('lufs')], static fn (string $value): bool => '' !== $value);
        if (\count($level) > 1) {
            throw InvalidChange::field('--lufs', 'and --peak say two different levels: choose one.');
        }
        $order = DeliveryOrder::from(new Fields([
            'what' => [] === $bars ? $what : 'bars', 'fromBar' => $bars[1] ?? '', 'toBar' => $bars[2] ?? $bars[1] ?? '',
            'loop' => $input->getOption('cut') ? 'cut' : (bool) $input->getOption('loop'), 'trim' => (bool) $input->getOption('trim'), 'format' => $format->value, 'stems' => null === $folder ? 'none' : $grouping->value, 'returns' => true,
            'dither' => 'shaped' === $dither ? 'shaped' : false !== $dither, 'lowerDb' => $text('lower'), 'rate' => $text('rate'),
            'level' => match (array_key_first($level)) {
                null => 'as-mixed',
                'lufs' => 'loudness',
                default => 'peak',
            }, ...$level,
        ]));

        return (new DeliveryWriter($this->samples->library()))->write($beat, $order, $out, $folder ?? '', static fn (float $progress): bool => true)->paths ?? [];
    }
}
