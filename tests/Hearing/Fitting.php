<?php

namespace Pestle\Tests\Hearing;

use Pestle\Core\Analysis\Chroma;
use Pestle\Core\Analysis\Hits;
use Pestle\Core\Analysis\HitSound;
use Pestle\Core\Analysis\KeyGuess;
use Pestle\Core\Analysis\Network;
use Pestle\Core\Analysis\OnsetCues;
use Pestle\Core\Analysis\Onsets;
use Pestle\Core\Analysis\OnsetStrength;
use Pestle\Core\Analysis\SingleSound;
use Pestle\Core\Analysis\TempoFeatures;
use Pestle\Core\Audio\SoundFile;

/** Fits what the analysis weighs to recordings whose truth is known. */
final class Fitting
{
    /** How far from a hit, in seconds, a peak may lie. */
    private const NEAR = 0.02;
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
            $candidates = TempoFeatures::of($strength, $hits, $source->seconds())->candidates;
            $cases[] = array_column($candidates, 1);
            $right[] = array_keys(array_filter($candidates, static fn (array $c): bool => $c[0] > 0.988 * $truth->slowest && $c[0] < 1.012 * $truth->fastest));
        }
        self::keep('tempo', ChoiceTrainer::fit($cases, $right, 16));
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
