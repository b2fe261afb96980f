<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\AudioSource;

/** The hits of a recording, each with its kind. */
final class Hits
{
    /** Below this probability a kind is not worth naming. */
    private const SURE = 0.3;

    /**
     * @param list<int> $onsets frames, ascending
     *
     * @return list<Hit>
     */
    public static function at(AudioSource $source, array $onsets, float $peak): array
    {
        $sound = new HitSound($source, $peak);
        $model = HitModel::shipped();
        $hits = $levels = [];
        foreach ($onsets as $i => $frame) {
            $until = $onsets[$i + 1] ?? $source->frames();
            $levels[] = $source->read($frame, max(1, min($until - $frame, intdiv($source->sampleRate(), 20))))->peak();
            $probabilities = $model->probabilities($sound->features($frame, $until));
            $hits[] = $probabilities;
        }
        $loudest = [] === $levels ? 0.0 : max($levels);
        $out = [];
        foreach ($hits as $i => $probabilities) {
            $sure = max($probabilities);
            $kind = $sure < self::SURE ? HitKind::Other : HitModel::KINDS[(int) array_search($sure, $probabilities, true)];
            $out[] = new Hit($onsets[$i], $kind, $sure, $loudest > 0.0 ? $levels[$i] / $loudest : 0.0);
        }

        return $out;
    }
}
