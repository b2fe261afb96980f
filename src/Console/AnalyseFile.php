<?php

namespace Pestle\App\Console;

use Pestle\App\Gather\ForeignDecoder;
use Pestle\Core\Analysis\Loudness;
use Pestle\Core\Analysis\Onsets;
use Pestle\Core\Analysis\TempoGuess;
use Pestle\Core\Audio\PcmFile;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\UnreadableAudio;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\ConsoleOutputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:analyse', 'Tells what Pestle hears in a sound file.')]
final class AnalyseFile extends Command
{
    protected function configure(): void
    {
        $this->addArgument('file', InputArgument::REQUIRED, 'a WAV, AIFF, FLAC, MP3 or Ogg file');
        $this->addOption('json', null, InputOption::VALUE_NONE, 'one JSON object: seconds, sample_rate, channels, peak, onsets, tempo, loudness');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $file = $input->getArgument('file');
        $file = \is_string($file) ? $file : '';
        $decoded = tempnam(sys_get_temp_dir(), 'pestle');
        try {
            $facts = self::facts($this->open($file, (string) $decoded));
        } catch (UnreadableAudio $e) {
            ($output instanceof ConsoleOutputInterface ? $output->getErrorOutput() : $output)->writeln($e->getMessage());

            return Command::FAILURE;
        } finally {
            @unlink((string) $decoded);
        }
        if ($input->getOption('json')) {
            $output->writeln(json_encode($facts, \JSON_THROW_ON_ERROR | \JSON_PRESERVE_ZERO_FRACTION));
        } else {
            $output->writeln([
                \sprintf('Length     %.3f s, %d Hz, %d channels', $facts['seconds'], $facts['sample_rate'], $facts['channels']),
                \sprintf('Peak       %.1f dBFS, %.1f dBTP', $facts['peak'], $facts['loudness']['true_peak_dbtp']),
                \sprintf('Loudness   %.1f LUFS', $facts['loudness']['integrated_lufs']),
                \sprintf('Tempo      %s', null === $facts['tempo'] ? 'none found' : $facts['tempo']['bpm'].' BPM'),
                \sprintf('Hits       %d', \count($facts['onsets'])),
            ]);
        }

        return Command::SUCCESS;
    }

    private function open(string $file, string $decoded): PcmFile
    {
        if (!is_file($file)) {
            throw UnreadableAudio::because($file, 'there is no such file.');
        }
        $kind = ForeignDecoder::kind($file);
        if (null === $kind) {
            return SoundFile::open($file);
        }
        ForeignDecoder::toWav($file, $kind, $decoded, basename($file));

        return SoundFile::open($decoded, basename($file));
    }

    /** @return array{seconds: float, sample_rate: int, channels: int, peak: float, onsets: list<float>, tempo: array{bpm: float, confidence: float}|null, loudness: array{integrated_lufs: float, true_peak_dbtp: float}} */
    private static function facts(PcmFile $source): array
    {
        $flux = Onsets::flux($source);
        $tempo = TempoGuess::from($flux, $source->seconds());
        $loudness = Loudness::of($source);

        return [
            'seconds' => round($source->seconds(), 6),
            'sample_rate' => $source->sampleRate(),
            'channels' => $source->channels,
            'peak' => round($loudness->samplePeakDb, 2),
            'onsets' => array_map(static fn (int $frame): float => round($frame / $source->sampleRate(), 4), Onsets::pick($source, $flux, 0.5, 0.04)),
            'tempo' => null === $tempo ? null : ['bpm' => $tempo->bpm, 'confidence' => round($tempo->confidence, 2)],
            'loudness' => ['integrated_lufs' => round($loudness->integratedLufs, 2), 'true_peak_dbtp' => round($loudness->truePeakDb, 2)],
        ];
    }
}
