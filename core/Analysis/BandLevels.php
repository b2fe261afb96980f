<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Fft;

/**
 * How much of a sound lies in each of sixty bands from 20 Hz to 20 kHz, a sixth of an octave each: mean power of both
 * sides, 1 for a sine that reaches full scale. Where a band is narrower than the transform tells apart, it is read between
 * two of its lines. Source: F. J. Harris, "On the use of windows" (Proc. IEEE 1978), Hann window and its power gain.
 */
final class BandLevels
{
    public const BANDS = 60;
    public const LOWEST_HZ = 20.0;
    public const HIGHEST_HZ = 20000.0;
    /** Frames of a transform. */
    public const FRAMES = 4096;

    private readonly Fft $fft;
    /** @var list<float> */
    private readonly array $window;
    /** @var list<array{int, int, float, float}> first and last line of each band, place of its middle between lines, width in lines */
    private array $lines = [];

    public function __construct(float $sampleRate)
    {
        $this->fft = new Fft(self::FRAMES);
        $this->window = array_map(static fn (int $i): float => 0.5 - 0.5 * cos(2.0 * \M_PI * $i / self::FRAMES), range(0, self::FRAMES - 1));
        $perHz = self::FRAMES / $sampleRate;
        for ($b = 0; $b < self::BANDS; ++$b) {
            [$from, $to] = [self::edge($b) * $perHz, self::edge($b + 1) * $perHz];
            $this->lines[] = [(int) ceil($from), (int) ceil($to) - 1, 0.5 * ($from + $to), $to - $from];
        }
    }

    /** Hz at the middle of a band. */
    public static function hz(int $band): float
    {
        return sqrt(self::edge($band) * self::edge($band + 1));
    }

    /**
     * @param StereoBlock $block what is shorter or longer than a transform is filled up or cut off
     *
     * @return list<float> power of each band
     */
    public function of(StereoBlock $block): array
    {
        $left = $this->side($block->left);

        return $block->left === $block->right ? $left : array_map(static fn (float $l, float $r): float => 0.5 * ($l + $r), $left, $this->side($block->right));
    }

    /**
     * @param list<float> $signal
     *
     * @return list<float>
     */
    private function side(array $signal): array
    {
        $shaped = [];
        foreach (\array_slice($signal, 0, self::FRAMES) as $i => $x) {
            $shaped[] = $x * $this->window[$i];
        }
        $magnitudes = $this->fft->magnitudes(array_pad($shaped, self::FRAMES, 0.0));
        $scale = 32.0 / (3.0 * self::FRAMES * self::FRAMES);
        $power = [];
        foreach ($this->lines as [$first, $last, $middle, $width]) {
            if ($last - $first < 1) {
                $k = (int) $middle;
                $part = $middle - $k;
                $power[] = $scale * $width * ((1.0 - $part) * $magnitudes[$k] ** 2 + $part * $magnitudes[$k + 1] ** 2);
                continue;
            }
            $sum = 0.0;
            for ($k = $first; $k <= $last; ++$k) {
                $sum += $magnitudes[$k] * $magnitudes[$k];
            }
            $power[] = $scale * $sum;
        }

        return $power;
    }

    private static function edge(int $band): float
    {
        return self::LOWEST_HZ * (self::HIGHEST_HZ / self::LOWEST_HZ) ** ($band / self::BANDS);
    }
}
