<?php

namespace Pestle\App\Console;

use Pestle\Core\Analysis\Heard;
use Pestle\Core\Analysis\HeardNote;
use Pestle\Core\Analysis\Hit;
use Pestle\Core\Analysis\Transcription;
use Pestle\Core\Audio\PcmFile;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:analyse', 'Tells what Pestle hears in a sound file.')]
final class AnalyseFile extends PestleCommand
{
    protected function configure(): void
    {
        $this->addArgument('file', InputArgument::REQUIRED, 'a WAV, AIFF, FLAC, MP3 or Ogg file');
        $this->addOption('json', null, InputOption::VALUE_NONE, 'one JSON object: seconds, sample_rate, channels, kind, role, peak, onsets, hits, tempo, meter, beats, downbeats, key, pitch, loudness, notes');
    }

    protected function work(InputInterface $input, OutputInterface $output): int
    {
        $file = self::argument($input, 'file');
        $facts = SoundFileIn::opened($file, self::facts(...));
        if ($input->getOption('json')) {
            $output->writeln(json_encode($facts, \JSON_THROW_ON_ERROR | \JSON_PRESERVE_ZERO_FRACTION));
        } else {
            foreach ($facts as $name => $fact) {
                $output->writeln(\sprintf('%-12s %s', $name, match (true) {
                    null === $fact => 'not found',
                    !\is_array($fact) => \is_scalar($fact) ? (string) $fact : '',
                    array_is_list($fact) => (string) \count($fact),
                    default => trim((string) json_encode($fact), '{}'),
                }));
            }
        }

        return Command::SUCCESS;
    }

    /** @return array<string, mixed> */
    private static function facts(PcmFile $source): array
    {
        $heard = Heard::in($source);
        $second = static fn (float $t): float => round($t, 4);
        $at = static fn (Hit $hit): float => $second($hit->frame / $source->sampleRate());

        return [
            'seconds' => round($source->seconds(), 6),
            'sample_rate' => $source->sampleRate(),
            'channels' => $source->channels,
            'kind' => $heard->kind,
            'role' => $heard->role,
            'peak' => round($heard->loudness->samplePeakDb, 2),
            'onsets' => array_map($at, $heard->hits),
            'hits' => array_map(static fn (Hit $hit): array => ['time' => $at($hit), 'role' => $hit->kind->value, 'confidence' => round($hit->confidence, 3)], $heard->hits),
            'tempo' => null === $heard->tempo ? null : [
                'bpm' => $heard->tempo->bpm,
                'confidence' => round($heard->tempo->confidence, 3),
                'alternatives' => array_map(static fn (array $a): array => ['bpm' => $a[0], 'confidence' => round($a[1], 3)], $heard->tempo->alternatives),
            ],
            'meter' => $heard->tempo?->meter->meter->name(),
            'beats' => array_map($second, $heard->beats->times ?? []),
            'downbeats' => array_map($second, $heard->beats->downbeats ?? []),
            'key' => null === $heard->key ? null : ['name' => $heard->key->key->name(), 'confidence' => round($heard->key->confidence, 3)],
            'tuning_cents' => null === $heard->key ? null : round($heard->chroma->cents, 1),
            'pitch' => null === $heard->pitch ? null : ['midi' => $heard->pitch->midi(), 'cents' => round($heard->pitch->cents(), 1), 'confidence' => round($heard->pitch->confidence, 3)],
            'notes' => array_map(static fn (HeardNote $n): array => ['start' => $second($n->start), 'end' => $second($n->end), 'midi' => $n->pitch, 'velocity' => $n->velocity], Transcription::of($source)),
            'loudness' => ['integrated_lufs' => round($heard->loudness->integratedLufs, 2), 'true_peak_dbtp' => round($heard->loudness->truePeakDb, 2)],
        ];
    }
}
