<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\AudioSource;

/** The hits of a recording, each with its kind. */
final class Hits
{
    /** In the order of the network's outputs. */
    public const KINDS = [HitKind::Kick, HitKind::Snare, HitKind::Clap, HitKind::Rim, HitKind::ClosedHat, HitKind::OpenHat, HitKind::Tom, HitKind::Cymbal, HitKind::Percussion];
    /** Below this probability a kind is not worth naming. */
    private const SURE = 0.3;
    /** A cymbal that is recorded alone rings longer; what is like it and does not is a hat that was closed. */
    private const CYMBAL_SECONDS = 0.7;

    /**
     * @param list<int> $onsets frames, ascending
     *
     * @return list<Hit>
     */
    public static function at(AudioSource $source, array $onsets, float $peak): array
    {
        $sound = new HitSound($source, $peak);
        $network = Fitted::network('hits');
        $features = $levels = [];
        foreach ($onsets as $i => $frame) {
            $until = $onsets[$i + 1] ?? $source->frames();
            $levels[] = $source->read($frame, max(1, min($until - $frame, intdiv($source->sampleRate(), 20))))->peak();
            $features[] = $sound->features($frame, $until);
        }
        $hits = array_map(static fn (array $own): array => Fitted::probabilities($network->outputs($own) ?: [0.0]), HitSound::among($features));
        if (1 === \count($hits) && $source->frames() - $onsets[0] < self::CYMBAL_SECONDS * $source->sampleRate()) {
            $hits[0] = self::tooShortForACymbal($hits[0]);
        }
        $loudest = [] === $levels ? 0.0 : max($levels);
        $out = [];
        foreach ($hits as $i => $probabilities) {
            $sure = max($probabilities);
            $kind = $sure < self::SURE ? HitKind::Other : self::KINDS[(int) array_search($sure, $probabilities, true)];
            $out[] = new Hit($onsets[$i], $kind, $sure, $loudest > 0.0 ? $levels[$i] / $loudest : 0.0);
        }

        return $out;
    }

    /**
     * @param non-empty-list<float> $probabilities
     *
     * @return non-empty-list<float>
     */
    private static function tooShortForACymbal(array $probabilities): array
    {
        [$cymbal, $hat] = [array_search(HitKind::Cymbal, self::KINDS, true), array_search(HitKind::OpenHat, self::KINDS, true)];
        $probabilities[$hat] += $probabilities[$cymbal];
        $probabilities[$cymbal] = 0.0;

        return array_values($probabilities);
    }
}
