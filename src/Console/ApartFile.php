<?php

namespace Pestle\App\Console;

use Pestle\Core\Apart\Owned;
use Pestle\Core\Apart\RecordingPart;
use Pestle\Core\Apart\Separation;
use Pestle\Core\Audio\PcmFile;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\WavWriter;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Helper\ProgressBar;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:apart', 'Takes a recording apart into drums, bass, melody and voice, which add up to it.')]
final class ApartFile extends PestleCommand
{
    protected function configure(): void
    {
        $this->addArgument('file', InputArgument::REQUIRED, 'a WAV, AIFF, FLAC, MP3 or Ogg file');
        $this->addOption('out', 'o', InputOption::VALUE_REQUIRED, 'folder for drums.wav, bass.wav, melody.wav and voice.wav, 32 bit float and as long as the recording; it is made where it is missing');
        $this->addOption('json', null, InputOption::VALUE_NONE, 'one JSON object: of each part its file and how sure it is, 0 to 1, or null where it has hardly anything; the share that no part owns');
    }

    protected function work(InputInterface $input, OutputInterface $output): int
    {
        $folder = rtrim(self::option($input, 'out'), '/');
        if ('' === $folder) {
            throw new WronglyAsked('Say where to write with --out=FOLDER.');
        }
        $bar = new ProgressBar(self::errors($output));
        $owned = SoundFileIn::opened(self::argument($input, 'file'), static fn (PcmFile $recording): Owned => self::write($recording, $folder, $bar));
        $told = [];
        foreach (RecordingPart::cases() as $part) {
            $told[$part->value] = ['file' => $folder.'/'.$part->value.'.wav', 'sure' => null === ($sure = $owned->sure($part)) ? null : round($sure, 3)];
        }
        if ($input->getOption('json')) {
            $output->writeln(json_encode(['parts' => $told, 'nobodys' => round($owned->nobodys(), 3)], \JSON_THROW_ON_ERROR | \JSON_PRESERVE_ZERO_FRACTION), OutputInterface::OUTPUT_RAW);
        } else {
            foreach ($told as $name => ['file' => $file, 'sure' => $sure]) {
                $output->writeln(\sprintf('%-8s %s  %s', $name, null === $sure ? 'hardly any' : \sprintf('%3.0f %% sure', 100.0 * $sure), $file), OutputInterface::OUTPUT_RAW);
            }
            $output->writeln(\sprintf('%.0f %% of it no part owns; it lies with melody.', 100.0 * $owned->nobodys()));
        }

        return Command::SUCCESS;
    }

    /** All four appear when all are whole. */
    private static function write(PcmFile $recording, string $folder, ProgressBar $bar): Owned
    {
        if (!is_dir($folder) && !@mkdir($folder)) {
            throw CannotWrite::to($folder, 'the folder cannot be made');
        }
        if (!is_writable($folder)) {
            throw CannotWrite::to($folder, 'the folder has no right for it');
        }
        $separation = new Separation($recording);
        $writers = [];
        $owned = new Owned();
        try {
            foreach (RecordingPart::cases() as $part) {
                $writers[$part->value] = new WavWriter($folder.'/'.$part->value.'.wav', $recording->sampleRate(), SampleFormat::Float32);
            }
            foreach ($bar->iterate(range(0, $separation->pieces() - 1)) as $number) {
                $piece = $separation->piece($number);
                $owned = $owned->and($piece->owned);
                foreach (RecordingPart::cases() as $part) {
                    $writers[$part->value]->write($piece->of($part));
                }
            }
        } catch (\Throwable $e) {
            array_map(static fn (WavWriter $writer) => $writer->discard(), $writers);
            throw $e;
        }
        array_map(static fn (WavWriter $writer) => $writer->close(), $writers);

        return $owned;
    }
}
