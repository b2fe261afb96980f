<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\BiquadPair;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Grid;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Theory\SoundRules;

/**
 * A compressor whose way of listening is set: through filters, to peaks or to mean power, with a release that follows the
 * sound. Gain as in Compressor, in straight lines over sixteen frames. Mean power is taken over 10 ms, or less where times are
 * short; what it takes to follow comes off them. Released by itself,
 * its time is twice what is set by the crest factor squared, so what is set for a tone and less for hits.
 * Sources: Giannoulis, Massberg and Reiss, "Digital dynamic range compressor design" (JAES 2012), and "Parameter automation
 * in a dynamic range compressor" (JAES 2013), equation 13.
 */
final readonly class ListeningCompressor implements Insert
{
    private const HOLD_SECONDS = 0.01;
    private const POWER_MS = 10.0;
    /** Mean power is taken over no more than this many attacks, and parts of a release. */
    private const ATTACKS = 1.0;
    private const RELEASES = 0.2;
    /** How long mean power takes to follow, in such times: on the way up, and down, from 12 to 24 dB over the threshold. */
    private const UP = 0.45;
    private const DOWN = 2.0;
    private const CREST_SECONDS = 0.2;
    /** Shortest automatic release, in ms. */
    private const LEAST_RELEASE = 5.0;
    private const FILTERS = 8;

    private Biquad $above;
    private Biquad $below;
    private bool $filters;
    private float $threshold;
    private float $half;
    private float $slope;
    private float $makeup;
    private float $perMs;
    /** Steps for which a peak counts. */
    private int $hold;
    private float $power;
    /** Steps that mean power takes to follow. */
    private float $follows;
    private float $crest;

    public function __construct(private CompressorSettings $settings, float $sampleRate, SoundRules $rules = SoundRules::NEWEST)
    {
        $this->above = CompressorSettings::LOWEST_HZ === $settings->aboveHz ? Biquad::through() : Biquad::highPass($settings->aboveHz, 0.71, $sampleRate);
        $this->below = CompressorSettings::HIGHEST_HZ === $settings->belowHz ? Biquad::through() : Biquad::lowPass(min(0.45 * $sampleRate, $settings->belowHz), 0.71, $sampleRate);
        $this->filters = CompressorSettings::LOWEST_HZ !== $settings->aboveHz || CompressorSettings::HIGHEST_HZ !== $settings->belowHz;
        $this->threshold = Decibels::toGain($settings->thresholdDb) ** 2;
        $this->half = 0.05 * log(10.0) * $settings->kneeDb;
        $this->slope = 0.5 * (1.0 - 1.0 / $settings->ratio);
        [$this->makeup] = Grid::state([Decibels::toGain($settings->makeupDb)]);
        $this->perMs = $sampleRate / 1000.0 / GainCurve::STEP;
        $held = min(self::HOLD_SECONDS * 1000.0, 0.5 * $settings->releaseMs) * $this->perMs;
        $this->hold = Detector::Rms === $settings->detector ? 1 : max(1, (int) ceil($held));
        $first = SoundRules::First === $rules;
        $window = $first ? self::POWER_MS : min(self::POWER_MS, self::ATTACKS * $settings->attackMs, self::RELEASES * $settings->releaseMs);
        $this->power = self::share($window * $this->perMs);
        $this->follows = $first || Detector::Rms !== $settings->detector ? 0.0 : $window * $this->perMs;
        $this->crest = self::share(self::CREST_SECONDS * 1000.0 * $this->perMs);
    }

    /** Sections of both sides; nepers of reduction, gain and where it is going, mean power, slow peak and slow power; then the powers of peaks that are held. */
    public function rest(): InsertState
    {
        return new InsertState([...array_fill(0, self::FILTERS, 0.0), 0.0, $this->makeup, $this->makeup, 0.0, 0.0, 0.0, ...array_fill(0, $this->hold, 0.0)]);
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        [$heard, $filters] = $this->heard($key ?? $in, \array_slice($state->numbers, 0, self::FILTERS));
        [$depth, $gain, $target, $power, $slowPeak, $slowPower] = \array_slice($state->numbers, self::FILTERS, 6);
        $held = \array_slice($state->numbers, self::FILTERS + 6);
        $start = $gain;
        $targets = [];
        // Off the times that are set comes what passes anyway.
        $attack = self::share($this->settings->attackMs * $this->perMs - 1.0 - self::UP * $this->follows);
        $release = self::share($this->settings->releaseMs * $this->perMs - 1.0 - $this->hold - self::DOWN * $this->follows);
        for ($i = 0, $n = $in->frames(); $i < $n; $i += GainCurve::STEP) {
            $targets[] = $gain = $target;
            [$peak, $mean] = self::powers($heard, $i);
            $power += ($mean - $power) * $this->power;
            array_shift($held);
            $held[] = Detector::Rms === $this->settings->detector ? $power : $peak;
            if ($this->settings->auto) {
                $slowPeak = max($peak, $slowPeak + ($peak - $slowPeak) * $this->crest);
                $slowPower += ($mean - $slowPower) * $this->crest;
                $release = self::share(max(self::LEAST_RELEASE, $this->settings->releaseMs * self::longest($slowPeak, $slowPower)) * $this->perMs - 1.0 - $this->hold - self::DOWN * $this->follows);
            }
            $wanted = $this->wanted(max($held));
            $depth += ($wanted - $depth) * ($wanted > $depth ? $attack : $release);
            $depth = $depth > 1e-9 ? $depth : 0.0;
            $target = $this->makeup * exp(-$depth);
        }
        $curve = new GainCurve($start, $targets, $this->makeup);
        // What is far below anything heard is nothing: so it comes to rest.
        $small = array_map(static fn (float $x): float => $x < 1e-12 ? 0.0 : $x, [$power, $slowPeak, $slowPower, ...$held]);

        return [Gain::along($in, $curve), new InsertState(Grid::state([...$filters, $depth, $gain, $target, ...$small])), $curve];
    }

    /** Nepers of reduction that a power calls for. */
    private function wanted(float $power): float
    {
        $over = $power > 0.0 ? log($power / $this->threshold) : -\INF;

        return match (true) {
            $over >= $this->half => $this->slope * $over,
            $over <= -$this->half => 0.0,
            default => $this->slope * ($over + $this->half) ** 2 / (4.0 * $this->half),
        };
    }

    /** Share of the longest release: 1 for a tone, whose peak is twice its power, less where the peak is more. */
    private static function longest(float $peak, float $power): float
    {
        return $power > 1e-12 ? min(1.0, 2.0 * $power / max($peak, $power)) : 1.0;
    }

    /** @return array{float, float} highest power and mean power of a step, of the louder side */
    private static function powers(StereoBlock $heard, int $at): array
    {
        $highest = $mean = 0.0;
        foreach ($heard->left === $heard->right ? [$heard->left] : [$heard->left, $heard->right] as $side) {
            $step = \array_slice($side, $at, GainCurve::STEP);
            $highest = max($highest, Peak::of($step) ** 2);
            $mean = max($mean, array_sum(array_map(static fn (float $x): float => $x * $x, $step)) / \count($step));
        }

        return [$highest, $mean];
    }

    /**
     * @param list<float> $state
     *
     * @return array{StereoBlock, list<float>}
     */
    private function heard(StereoBlock $in, array $state): array
    {
        if (!$this->filters) {
            return [$in, $state];
        }
        [$a, $b, $c, $d, $e, $f, $g, $h] = $state;
        [$forLeft, $forRight] = [[$a, $b, $c, $d], [$e, $f, $g, $h]];
        [$left, $l] = BiquadPair::filter($in->left, $this->above, $this->below, $forLeft);
        [$right, $r] = $in->left === $in->right && $forLeft === $forRight ? [$left, $l] : BiquadPair::filter($in->right, $this->above, $this->below, $forRight);

        return [new StereoBlock($left, $right), [...$l, ...$r]];
    }

    private static function share(float $steps): float
    {
        return 1.0 - exp(-1.0 / max(0.25, $steps));
    }
}
