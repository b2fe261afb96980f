<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Grid;
use Pestle\Core\Signal\StateVariable;
use Pestle\Core\Theory\SoundRules;

/**
 * Three resonances side by side, where a mouth has them at a vowel; between two vowels they lie between them. Frequencies
 * and levels: G. E. Peterson and H. L. Barney, "Control methods used in a study of the vowels" (JASA 1952), means of men;
 * of the levels half in dB, so that what lies high is told in a mix. What they let through of a sound with as much in every
 * octave is as loud as it was, but for MOST_MAKEUP; by the first rules it was 10 to 20 dB softer.
 */
final readonly class Formants implements Insert
{
    /** a e i o u: Hz of three formants, and their levels in dB. */
    private const VOWELS = [
        [[730.0, 1090.0, 2440.0], [-1.0, -5.0, -28.0]],
        [[530.0, 1840.0, 2480.0], [-2.0, -17.0, -24.0]],
        [[270.0, 2290.0, 3010.0], [-4.0, -24.0, -28.0]],
        [[570.0, 840.0, 2410.0], [0.0, -7.0, -34.0]],
        [[300.0, 870.0, 2240.0], [-3.0, -19.0, -43.0]],
    ];
    private const LEVEL_SHARE = 0.5;
    /** What is heard, from 30 Hz to 16 kHz, in nepers. */
    private const HEARD = 6.28;
    /** A tone that lies on a formant is lifted by all of it: no more than 12 dB. */
    private const MOST_MAKEUP = 4.0;
    /** Q without and with all resonance. */
    private const Q = [3.0, 24.0];
    /** Values of state a formant: both integrators by side. */
    private const VALUES = 4;

    private Sweep $sweep;

    public function __construct(private FilterSettings $settings, private Timing $timing)
    {
        $this->sweep = new Sweep($settings, $timing);
    }

    /** @return array{list<float>, list<float>} Hz and gains of the formants at a vowel from 0 to 4 */
    public static function of(float $vowel): array
    {
        $vowel = max(0.0, min(4.0, $vowel));
        $first = min(3, (int) $vowel);
        $part = $vowel - $first;
        $hz = $gains = [];
        foreach (self::VOWELS[$first][0] as $k => $f) {
            $hz[] = $f * (self::VOWELS[$first + 1][0][$k] / $f) ** $part;
            $gains[] = 10.0 ** (self::LEVEL_SHARE * ((1.0 - $part) * self::VOWELS[$first][1][$k] + $part * self::VOWELS[$first + 1][1][$k]) / 20.0);
        }

        return [$hz, $gains];
    }

    /**
     * By how much what the formants let through is lifted. A resonance lets through 2 atan(s) / s of what is spread over the
     * logarithm of frequency, s = sqrt(4 Q² − 1); that they overlap a little is left out.
     *
     * @param list<float> $gains
     */
    public static function makeup(array $gains, float $q): float
    {
        $s = sqrt(4.0 * $q * $q - 1.0);
        $through = 2.0 * atan($s) / $s * array_sum(array_map(static fn (float $gain): float => $gain * $gain, $gains));

        return min(self::MOST_MAKEUP, sqrt(self::HEARD / $through));
    }

    public static function q(float $resonance): float
    {
        return self::Q[0] * (self::Q[1] / self::Q[0]) ** $resonance;
    }

    public function rest(): InsertState
    {
        return new InsertState(array_fill(0, 3 * self::VALUES + 1, 0.0));
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        $numbers = $state->numbers;
        [$moved, $level] = $this->sweep->octaves($in, $at, $numbers[3 * self::VALUES]);
        $warped = $gains = [[], [], []];
        $made = SoundRules::First !== $this->timing->rules;
        foreach ($moved as $vowels) {
            [$hz, $own] = self::of($this->settings->vowel + $vowels);
            $makeup = $made ? self::makeup($own, self::q($this->settings->resonance)) : 1.0;
            foreach ($hz as $k => $f) {
                $warped[$k][] = tan(\M_PI * $f / $this->timing->sampleRate);
                $gains[$k][] = $makeup * $own[$k];
            }
        }
        $same = $in->left === $in->right;
        $parts = [];
        $q = 1.0 / self::q($this->settings->resonance);
        $after = [];
        for ($k = 0; $k < 3; ++$k) {
            [$a, $b, $c, $d] = \array_slice($numbers, self::VALUES * $k, self::VALUES);
            [$left, $e, $f] = StateVariable::filter($in->left, $warped[$k], $q, [0.0, $q, 0.0], $a, $b);
            [$right, $g, $h] = $same && $a === $c && $b === $d ? [$left, $e, $f] : StateVariable::filter($in->right, $warped[$k], $q, [0.0, $q, 0.0], $c, $d);
            $parts[] = Gain::along(new StereoBlock($left, $right), new GainCurve($gains[$k][0] ?? 0.0, $gains[$k]));
            array_push($after, $e, $f, $g, $h);
        }
        $wet = 0.01 * $this->settings->mix;
        $sound = Gain::sum([$in, ...$parts], $in->frames(), [[1.0 - $wet, 1.0 - $wet], [$wet, $wet], [$wet, $wet], [$wet, $wet]]);

        return [$sound, new InsertState(Grid::state([...$after, $level])), null];
    }
}
