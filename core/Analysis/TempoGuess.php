<?php

namespace Pestle\Core\Analysis;

/**
 * Tempo of a recording: the likeliest of all candidates, then made exact by the times of its hits, and by whole
 * bars when the recording is a loop.
 */
final readonly class TempoGuess
{
    /** How far from a whole number of beats a loop's length may be, in beats, for the length to decide. */
    private const NEAR_BEATS = 0.06;

    /**
     * @param float                     $confidence   0 to 1
     * @param list<array{float, float}> $alternatives other tempi it may have, with their confidence, likeliest first
     * @param MeterGuess                $meter        how its beats are counted
     * @param int|null                  $bars         when the recording is a whole number of them long
     */
    private function __construct(public float $bpm, public float $confidence, public array $alternatives, public MeterGuess $meter, public ?int $bars)
    {
    }

    /**
     * @param list<Hit> $hits
     * @param float     $seconds length of the recording
     */
    public static function from(OnsetStrength $strength, array $hits, float $seconds): ?self
    {
        if (\count($hits) < 2 || \count($strength->all) < 60) {
            return null;
        }
        $repeats = new Repetition($strength, $hits);
        $groups = self::ranked(TempoFeatures::of($repeats, $strength->framesASecond(), $seconds)->candidates);
        [$rough, $confidence] = array_shift($groups) ?? [120.0, 0.0];
        $times = array_map(static fn (Hit $hit): float => $hit->frame / $strength->hop / $strength->framesASecond(), $hits);
        $bpm = self::exact($rough, $times, $hits);
        $meter = MeterGuess::of($repeats, $strength, $hits, $bpm, $seconds);
        $beats = $seconds * $bpm / 60.0;
        $whole = round($beats);
        $bars = null;
        $aBar = $meter->meter->countedBeats($bpm);
        if ($whole >= $aBar && 0.0 === fmod($whole, $aBar) && abs($beats - $whole) <= max(self::NEAR_BEATS, 0.002 * $whole)) {
            $bpm = $whole * 60.0 / $seconds;
            $bars = (int) ($whole / $aBar);
        }

        return new self(round($bpm, 2), $confidence, array_map(static fn (array $g): array => [round($g[0] * $bpm / $rough, 1), $g[1]], \array_slice($groups, 0, 3)), $meter, $bars);
    }

    /**
     * Neighbouring candidates are one tempo; their probabilities add up.
     *
     * @param non-empty-list<array{float, list<float>}> $candidates
     *
     * @return list<array{float, float}> tempo and probability, likeliest first
     */
    private static function ranked(array $candidates): array
    {
        $likely = Fitted::choice('tempo', array_column($candidates, 1));
        arsort($likely);
        /** @var list<float> $tempi */
        $tempi = [];
        /** @var list<float> $sums */
        $sums = [];
        foreach ($likely as $i => $probability) {
            foreach ($tempi as $k => $tempo) {
                if (abs(log($candidates[$i][0] / $tempo)) < 0.06) {
                    $sums[$k] += $probability;
                    continue 2;
                }
            }
            $tempi[] = $candidates[$i][0];
            $sums[] = $probability;
        }

        return array_map(static fn (float $tempo, float $sum): array => [$tempo, $sum], $tempi, $sums);
    }

    /**
     * The tempo within two percent at which the hits lie best on beats, eighths and sixteenths.
     *
     * @param list<float> $times of the hits in seconds
     * @param list<Hit>   $hits
     */
    private static function exact(float $rough, array $times, array $hits): float
    {
        $best = [$rough, -1.0];
        for ($bpm = 0.98 * $rough; $bpm <= 1.02 * $rough; $bpm *= 1.0004) {
            $sum = 0.0;
            foreach ([1 => 1.0, 2 => 0.7, 4 => 0.5] as $division => $weight) {
                $x = $y = 0.0;
                foreach ($times as $i => $time) {
                    $angle = 2 * \M_PI * $time * $bpm / 60.0 * $division;
                    $level = 0.3 + $hits[$i]->level;
                    $x += $level * cos($angle);
                    $y += $level * sin($angle);
                }
                $sum += $weight * sqrt($x * $x + $y * $y);
            }
            if ($sum > $best[1]) {
                $best = [$bpm, $sum];
            }
        }

        return $best[0];
    }
}
