<?php

namespace Pestle\App\Console;

use Pestle\App\Gather\SampleStore;
use Pestle\App\Shelf\KitShelf;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Render\Engine;
use Pestle\Core\Render\Rendered;
use Pestle\Core\Render\SegmentCache;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:kit:play', 'Plays one strike of a kit of the shelf, or a note of an instrument, into a WAV file.')]
final class KitPlay extends PestleCommand
{
    private const FIRST_NOTE = 36;

    public function __construct(private readonly KitShelf $shelf, private readonly SampleStore $samples)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('kit', InputArgument::REQUIRED, 'Its name, or its number');
        $this->addOption('note', null, InputOption::VALUE_REQUIRED, 'MIDI note: of a kit 36 is its first pad');
        $this->addOption('velocity', null, InputOption::VALUE_REQUIRED, '1 to 127', '100');
        $this->addOption('turn', null, InputOption::VALUE_REQUIRED, 'Which of the sounds that answer in turn or by chance, from 0 on', '0');
        $this->addOption('out', 'o', InputOption::VALUE_REQUIRED, 'FILE.wav');
    }

    protected function work(InputInterface $input, OutputInterface $output): int
    {
        $out = OutFile::at(self::option($input, 'out'), 'FILE.wav');
        $number = static fn (string $option): ?int => is_numeric($value = $input->getOption($option)) ? (int) $value : null;
        $note = $number('note') ?? throw new WronglyAsked('Say which note with --note=60.');
        $sheet = ShelvedSheet::of($this->shelf, self::argument($input, 'kit'));
        $beat = Changes::apply(Changes::read(['type' => 'load-kit', 'part' => 'part-2', 'sheet' => BeatCodec::json($sheet->toArray())]), Beat::empty($sheet->name));
        // Nothing on its way: the sound of the kit alone.
        foreach (array_keys($beat->mixer->nodes) as $line) {
            $beat = $beat->withMixer($beat->mixer->withLine($beat->line((string) $line)->with(['inserts' => []])));
        }
        $place = $note - self::FIRST_NOTE;
        $pad = $beat->kit->banksOf('part-2')[intdiv(max(0, $place), 16)] ?? null;
        $what = null === $sheet->keys ? ['op' => 'pad', 'pad' => null === $pad || $place < 0 ? '' : $pad->id.$place % 16] : ['op' => 'note', 'part' => 'part-2', 'pitch' => $note];
        [$answer, $sound] = (new Engine($this->samples->library(), SegmentCache::none()))->answer([...$what, 'beat' => BeatCodec::encode($beat), 'velocity' => max(1, min(127, $number('velocity') ?? 100)), 'turn' => $number('turn') ?? 0]);
        if (\is_string($answer['error'] ?? null) || '' === $sound) {
            throw new InvalidChange(\is_string($answer['error'] ?? null) ? $answer['error'] : 'Nothing answers this note.');
        }
        $out->make(static function (string $path) use ($sound): void {
            $writer = new WavWriter($path, Beat::SAMPLE_RATE, SampleFormat::Float32);
            $writer->write(Rendered::unpack($sound));
            $writer->close();
        });
        $out->say($output, \sprintf('  %.3f s', (\strlen($sound) >> 3) / Beat::SAMPLE_RATE));

        return Command::SUCCESS;
    }
}
