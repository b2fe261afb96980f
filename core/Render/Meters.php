<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Signal\Decibels;

/** How loud everything was, for drawing: peaks every Rendered::PEAK_FRAMES, and how far dynamics pulled down. */
final class Meters
{
    /**
     * @param list<Moment> $moments
     *
     * @return array<string, mixed>
     */
    public static function of(array $moments, Beat $beat): array
    {
        $channels = $mix = $reductions = [];
        foreach ($moments as $moment) {
            $columns = (int) ceil($moment->segment->frames / Rendered::PEAK_FRAMES);
            array_push($mix, ...self::peaks($moment->mix, $columns, 1.0));
            foreach ($moment->levels as $id => $strip) {
                $gain = Decibels::toGain($beat->mixer->channels[$id]->gainDb ?? 0.0);
                $channels[$id] ??= [];
                array_push($channels[$id], ...self::peaks($strip, $columns, $gain));
            }
            foreach ($moment->reductions as $id => $gain) {
                $reductions[$id][] = round(20.0 * log10(max($gain, 1e-4)), 1);
            }
        }

        return ['every' => Rendered::PEAK_FRAMES, 'mix' => $mix, 'channels' => $channels, 'reductions' => $reductions];
    }

    /** @return list<float> left and right by turns */
    private static function peaks(Rendered $rendered, int $columns, float $gain): array
    {
        $peaks = $rendered->peaks();

        return [] === $peaks
            ? array_fill(0, 2 * $columns, 0.0)
            : array_map(static fn (float $peak): float => round($peak * $gain, 4), $peaks);
    }
}
