<?php

namespace Pestle\Tests\Hearing;

use Pestle\Core\Analysis\Chroma;
use Pestle\Core\Analysis\Hits;
use Pestle\Core\Analysis\HitSound;
use Pestle\Core\Analysis\KeyGuess;
use Pestle\Core\Analysis\MeterGuess;
use Pestle\Core\Analysis\Network;
use Pestle\Core\Analysis\OnsetCues;
use Pestle\Core\Analysis\Onsets;
use Pestle\Core\Analysis\OnsetStrength;
use Pestle\Core\Analysis\Repetition;
use Pestle\Core\Analysis\SingleSound;
use Pestle\Core\Analysis\TempoFeatures;
use Pestle\Core\Analysis\Transcription;
use Pestle\Core\Audio\SoundFile;

/** Fits what the analysis weighs to recordings whose truth is known. */
final class Fitting
{
    /** How far from a hit, in seconds, a peak may lie. */
    private const NEAR = 0.02;
    /** And how far from where a note begins, or before it ends. */
    private const NOTE_SECONDS = 0.06;
    /** A note of a slow attack is to be heard so late. */
    private const LATE_SECONDS = 0.15;
    /** When several drums sound at once, the kind a maker would name. */
    private const PRIORITY = ['kick', 'snare', 'clap', 'tom', 'rim', 'cymbal', 'open hat', 'percussion', 'closed hat'];

    /** @param list<string> $truths paths of the recordings' .json files */
    public static function onsets(array $truths): void
    {
        $features = $right = [];
        foreach ($truths as $path) {
            $truth = Truth::read($path);
            $source = SoundFile::open($truth->file);
            $cues = new OnsetCues(true);
            $strength = OnsetStrength::of($source, $cues);
            $times = array_map(static fn (int $i): float => Onsets::place($source, $i * $strength->hop) / $source->sampleRate(), array_combine(array_keys($cues->kept), array_keys($cues->kept)));
            // Of several peaks at one hit, the strongest is it.
            $hits = [];
            foreach ($truth->onsets as [$time]) {
                $near = array_filter($times, static fn (float $t): bool => abs($t - $time) <= self::NEAR);
                uksort($near, static fn (int $a, int $b): int => $strength->all[$b] <=> $strength->all[$a]);
                $hits[array_key_first($near) ?? -1] = true;
            }
            foreach ($cues->kept as $i => $own) {
                $features[] = $own;
                $right[] = isset($hits[$i]) ? 1 : 0;
            }
        }
        self::keep('onsets', NetworkTrainer::fit($features, $right, 2, 40, 16));
    }

    /** @param list<string> $truths */
    public static function hits(array $truths): void
    {
        $names = array_map(static fn ($kind): string => $kind->value, Hits::KINDS);
        $features = $kinds = [];
        foreach ($truths as $path) {
            $truth = Truth::read($path);
            $source = SoundFile::open($truth->file);
            $strength = OnsetStrength::of($source);
            $sound = new HitSound($source, $strength->peak);
            $onsets = Onsets::pick($source, $strength, 0.5, 0.03);
            $heard = [];
            foreach ($onsets as $i => $frame) {
                $heard[] = $sound->features($frame, $onsets[$i + 1] ?? $source->frames());
            }
            $among = HitSound::among($heard);
            foreach ($onsets as $i => $frame) {
                $sounding = $truth->kindsAt($frame / $source->sampleRate());
                if ([] === $sounding) {
                    continue;
                }
                // Sounds of a catalogue are learned as they come alone.
                $features[] = str_contains($path, 'catalogue') ? HitSound::among([$heard[$i]])[0] : $among[$i];
                $kinds[] = (int) array_search(current(array_intersect(self::PRIORITY, $sounding)), $names, true);
            }
        }
        self::keep('hits', NetworkTrainer::fit($features, $kinds, \count($names), 72, 40));
    }

    /** @param list<string> $truths */
    public static function tempo(array $truths): void
    {
        $cases = $right = [];
        foreach ($truths as $path) {
            $truth = Truth::read($path);
            $source = SoundFile::open($truth->file);
            $strength = OnsetStrength::of($source);
            $hits = Hits::at($source, Onsets::pick($source, $strength, 0.5, 0.03), $strength->peak);
            $candidates = TempoFeatures::of(new Repetition($strength, $hits), $strength->framesASecond(), $source->seconds())->candidates;
            $cases[] = array_column($candidates, 1);
            $right[] = array_keys(array_filter($candidates, static fn (array $c): bool => $truth->isTempo($c[0], 0.012)));
        }
        self::keep('tempo', ChoiceTrainer::fit($cases, $right, 16));
    }

    /** @param list<string> $truths */
    public static function meter(array $truths): void
    {
        $features = $right = [];
        foreach ($truths as $path) {
            $truth = Truth::read($path);
            $source = SoundFile::open($truth->file);
            $strength = OnsetStrength::of($source);
            $hits = Hits::at($source, Onsets::pick($source, $strength, 0.5, 0.03), $strength->peak);
            $repeats = new Repetition($strength, $hits);
            // Heard a little off, as it will be; and six in six too, where two are slow.
            foreach ([$truth->bpm, 0.997 * $truth->bpm, 1.003 * $truth->bpm, ...('6/8' === $truth->meter ? [3.0 * $truth->bpm] : [])] as $bpm) {
                $features[] = MeterGuess::features($repeats, $strength, $hits, $bpm, $source->seconds());
                $right[] = (int) array_search($truth->meter, MeterGuess::METERS, true);
            }
        }
        self::keep('meter', NetworkTrainer::fit($features, $right, \count(MeterGuess::METERS), 24, 30));
    }

    /** @param list<string> $truths */
    public static function keys(array $truths): void
    {
        $cases = $right = [];
        foreach ($truths as $path) {
            $truth = Truth::read($path);
            $candidates = KeyGuess::candidates(Chroma::of(SoundFile::open($truth->file)));
            $cases[] = array_column($candidates, 1);
            $right[] = array_keys(array_filter($candidates, static fn (array $c): bool => $c[0]->name() === $truth->key));
        }
        self::keep('key', ChoiceTrainer::fit($cases, $right, 16));
    }

    /** @param list<string> $truths single lines and chords */
    public static function notes(array $truths): void
    {
        $features = $right = [];
        foreach ($truths as $path) {
            $truth = Truth::read($path);
            $cues = Transcription::cues(SoundFile::open($truth->file));
            $times = array_column($cues, 0);
            // Each note begins at the place that is nearest.
            $begins = [];
            foreach ($truth->notes as [$start, , $pitch]) {
                $off = array_map(static fn (float $t): float => abs($t - $start), $times);
                $nearest = (int) array_search(min([9.0, ...$off]), $off, true);
                $begins[$nearest][$pitch] = $times[$nearest] - $start <= self::LATE_SECONDS && $times[$nearest] - $start >= -self::NOTE_SECONDS;
            }
            foreach ($cues as $i => [$at, $likely]) {
                foreach ($likely as $pitch => $numbers) {
                    $on = array_filter($truth->notes, static fn (array $note): bool => $note[2] === $pitch && $note[0] < $at - self::NEAR && $note[1] > $at + self::NOTE_SECONDS);
                    $features[] = $numbers;
                    $right[] = ($begins[$i][$pitch] ?? false) ? Transcription::BEGINS : ([] === $on ? Transcription::ABSENT : Transcription::GOES_ON);
                }
            }
        }
        self::keep('notes', NetworkTrainer::fit($features, $right, 3, 64, 24));
    }

    /** @param list<string> $files WAVs of single sounds */
    public static function sounds(array $files): void
    {
        self::keep('sounds', NetworkTrainer::fit(...SingleSounds::cases($files), outs: \count(SingleSound::ROLES), units: 72, rounds: 30));
    }

    private static function keep(string $name, Network $numbers): void
    {
        file_put_contents(\dirname(__DIR__, 2).'/core/Analysis/models/'.$name.'.json', json_encode($numbers, \JSON_THROW_ON_ERROR)."\n");
    }
}
