<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\Unpacked;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\Grid;

/**
 * A sum of recordings, each through two equalizer sections, a compressor and its fader, from the stored
 * integers to the sum in one loop: arrays between the stages cost more than all their arithmetic.
 * Equal to the bit to what Equalizer, Compressor and Render\Gain make of the same one after the other.
 */
final class RecordingSum
{
    /** A sum is as long as a multiple of this. */
    public const FRAMES = Unpacked::WORD_BYTES / 4;
    /** Words of two frames between two gains. */
    private const STEP = GainCurve::STEP / 2;
    /** @var list<float> */
    private array $left;
    /** @var list<float> */
    private array $right;

    public function __construct(int $frames)
    {
        $this->left = $this->right = array_fill(0, $frames, 0.0);
    }

    public function block(): StereoBlock
    {
        return new StereoBlock($this->left, $this->right);
    }

    /**
     * @param string                            $bytes    as PcmFile::stereo16(), as long as the sum
     * @param array{float, float, float, float} $levels   left and right of the recording, then of the fader
     * @param list<Biquad>                      $sections at most two
     * @param list<float>                       $state    as Compressor::process() has it
     *
     * @return array{list<float>, GainCurve} the state after it and the gain the compressor gave
     */
    public function add(string $bytes, array $levels, array $sections, Compressor $compressor, array $state): array
    {
        $count = 4 * \count($sections);
        $filters = [...\array_slice($state, 0, $count), ...array_fill(0, 8 - $count, 0.0)];
        [$envelope, $gain, $target] = \array_slice($state, $count);
        [$a, $b] = [$sections[0] ?? Biquad::through(), $sections[1] ?? Biquad::through()];
        [$filters, $follower, $targets] = $this->run(
            $bytes, Grid::SOUND, ...$levels, ...$compressor->numbers(), ...[$envelope, $gain, $target], ...$filters, ...$a->coefficients(), ...$b->coefficients(),
        );

        return [Grid::state([...\array_slice($filters, 0, $count), ...$follower]), new GainCurve($gain, $targets, $compressor->makeup)];
    }

    /**
     * All numbers come as parameters and every word is checked to be one, as the compiler keeps in registers only what it knows the type of.
     *
     * @return array{list<float>, list<float>, list<float>} state of the filters, of the compressor, and its gains
     */
    private function run(
        string $bytes, float $grid, float $levelLeft, float $levelRight, float $faderLeft, float $faderRight,
        float $attack, float $release, float $threshold, float $power, float $makeup, float $envelope, float $gain, float $target,
        float $s1, float $s2, float $u1, float $u2, float $t1, float $t2, float $v1, float $v2,
        float $b0, float $b1, float $b2, float $a1, float $a2, float $d0, float $d1, float $d2, float $c1, float $c2,
    ): array {
        // Taken out of the object, so that there is nobody to make copies for.
        [$left, $right] = [$this->left, $this->right];
        $this->left = $this->right = [];
        $levelLeft *= 1.0 / 32768.0;
        $levelRight *= 1.0 / 32768.0;
        $targets = [];
        $i = 0;
        [$words, $step, $perStep] = [0, self::STEP, 1.0 / GainCurve::STEP];
        $power2 = 0.0;
        $slope = ($target - $gain) * $perStep;
        $targets[] = $target;
        for ($at = 0, $n = \strlen($bytes); $at < $n; $at += Unpacked::WORD_BYTES) {
            foreach (Unpacked::words($bytes, $at) as $word) {
                if (!\is_int($word)) {
                    throw new \TypeError('Words are integers.');
                }
                $x = ((($word << 48) >> 48) * $levelLeft + $grid) - $grid;
                $z = ((($word << 32) >> 48) * $levelRight + $grid) - $grid;
                $p = ((($word << 16) >> 48) * $levelLeft + $grid) - $grid;
                $q = (($word >> 48) * $levelRight + $grid) - $grid;
                $y = $b0 * $x + $s1;
                $w = $b0 * $z + $u1;
                $s1 = $s2 + $b1 * $x - $a1 * $y;
                $u1 = $u2 + $b1 * $z - $a1 * $w;
                $s2 = $b2 * $x - $a2 * $y;
                $u2 = $b2 * $z - $a2 * $w;
                $x = $d0 * $y + $t1;
                $z = $d0 * $w + $v1;
                $t1 = $t2 + $d1 * $y - $c1 * $x;
                $v1 = $v2 + $d1 * $w - $c1 * $z;
                $t2 = $d2 * $y - $c2 * $x;
                $v2 = $d2 * $w - $c2 * $z;
                $y = $b0 * $p + $s1;
                $w = $b0 * $q + $u1;
                $s1 = $s2 + $b1 * $p - $a1 * $y;
                $u1 = $u2 + $b1 * $q - $a1 * $w;
                $s2 = $b2 * $p - $a2 * $y;
                $u2 = $b2 * $q - $a2 * $w;
                $p = $d0 * $y + $t1;
                $q = $d0 * $w + $v1;
                $t1 = $t2 + $d1 * $y - $c1 * $p;
                $v1 = $v2 + $d1 * $w - $c1 * $q;
                $t2 = $d2 * $y - $c2 * $p;
                $v2 = $d2 * $w - $c2 * $q;
                $gain += $slope;
                $left[$i] += ((($x * $gain + $grid) - $grid) * $faderLeft + $grid) - $grid;
                $right[$i] += ((($z * $gain + $grid) - $grid) * $faderRight + $grid) - $grid;
                ++$i;
                $gain += $slope;
                $left[$i] += ((($p * $gain + $grid) - $grid) * $faderLeft + $grid) - $grid;
                $right[$i] += ((($q * $gain + $grid) - $grid) * $faderRight + $grid) - $grid;
                ++$i;
                $y = $x * $x;
                if ($y > $power2) {
                    $power2 = $y;
                }
                $y = $z * $z;
                if ($y > $power2) {
                    $power2 = $y;
                }
                $y = $p * $p;
                if ($y > $power2) {
                    $power2 = $y;
                }
                $y = $q * $q;
                if ($y > $power2) {
                    $power2 = $y;
                }
                if (++$words === $step) {
                    $peak = sqrt($power2);
                    $envelope += ($peak - $envelope) * ($peak > $envelope ? $attack : $release);
                    $gain = $target;
                    $target = $envelope > $threshold ? $makeup * ($envelope / $threshold) ** $power : $makeup;
                    $slope = ($target - $gain) * $perStep;
                    $targets[] = $target;
                    $power2 = 0.0;
                    $words = 0;
                }
            }
        }
        array_pop($targets);
        [$this->left, $this->right] = [array_values($left), array_values($right)];

        return [[$s1, $s2, $u1, $u2, $t1, $t2, $v1, $v2], [$envelope, $gain, $target], $targets];
    }
}
