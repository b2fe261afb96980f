<?php

namespace Pestle\Tests\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Mix\ReverbSettings;
use Pestle\Core\Mix\Timing;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\Noise;
use Pestle\Core\Theory\Tempo;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;

/** Rooms do what is drawn, short ones and large ones. */
final class RoomTest extends TestCase
{
    private const RATE = 44100;
    private const BURST = 2000;

    /** Time of 60 dB in octaves, by backward integration of many bursts (M. R. Schroeder, JASA 1965). */
    #[TestWith([0.2, 1.0, 45.0, 10])]
    #[TestWith([0.3, 1.0, 45.0, 10])]
    #[TestWith([0.3, 0.3, 100.0, 10])]
    #[TestWith([0.5, 2.0, 60.0, 8])]
    #[TestWith([1.6, 1.0, 45.0, 3])]
    #[TestWith([6.0, 1.5, 60.0, 1])]
    public function testEveryOctaveRingsAsLongAsIsDrawn(float $decay, float $size, float $highs, int $bursts): void
    {
        $settings = self::room(['decay' => $decay, 'size' => $size, 'highs' => $highs]);
        $power = [];
        for ($seed = 1; $seed <= $bursts; ++$seed) {
            $sound = self::ringing($settings, (new Noise($seed))->block(self::BURST), 0.9 * $decay + 0.2);
            foreach ([500, 1000, 2000, 4000, 8000] as $hz) {
                $band = Biquad::bandPass((float) $hz, 2.0, (float) self::RATE);
                foreach ([$sound->left, $sound->right] as $side) {
                    foreach ($band->filter($band->filter($side)) as $i => $x) {
                        $power[$hz][$i] = ($power[$hz][$i] ?? 0.0) + $x * $x;
                    }
                }
            }
        }
        foreach ($power as $hz => $all) {
            self::assertEqualsWithDelta(1.0, self::decay(array_values($all), self::BURST + 500) / $settings->decayAt((float) $hz), $decay < 1.0 ? 0.11 : 0.06, "$hz Hz");
        }
    }

    /** Echoes are as dense as noise (Abel and Huang, AES 2006) by 60 ms, in larger rooms later by as much. */
    public function testEchoesAreDenseSoon(): void
    {
        foreach ([[0.3, 0.018], [1.0, 0.06], [2.0, 0.12]] as [$size, $seconds]) {
            $sound = self::ringing(self::room(['size' => $size, 'decay' => 2.0, 'highs' => 80.0]), [1.0], 0.6);
            $dense = [];
            foreach ([1.0, 1.3, 1.7, 2.2] as $later) {
                $dense[] = self::density($sound->left, (int) ($seconds * $later * self::RATE));
            }
            self::assertGreaterThan(0.88, array_sum($dense) / 4, "size $size: ".implode(' ', $dense));
        }
    }

    /** What is set changes how a room sounds, not how loud it is. */
    public function testARoomIsAsLoudWhateverIsSet(): void
    {
        $levels = [];
        foreach ([[0.2, 1.0, 45.0], [0.2, 2.0, 100.0], [0.3, 0.3, 45.0], [0.3, 1.0, 8.0], [1.6, 1.0, 45.0], [1.6, 2.0, 20.0], [6.0, 1.0, 45.0], [12.0, 0.5, 100.0]] as [$decay, $size, $highs]) {
            $sound = self::ringing(self::room(['decay' => $decay, 'size' => $size, 'highs' => $highs]), [1.0], 1.1 * $decay + 0.2);
            $sum = 0.0;
            foreach ([125.0, 250.0, 500.0, 1000.0, 2000.0, 4000.0, 8000.0] as $hz) {
                $sum += array_sum(array_map(static fn (float $x): float => $x * $x, Biquad::bandPass($hz, 1.4, (float) self::RATE)->filter($sound->left))) / $hz;
            }
            $levels[] = 10.0 * log10($sum);
        }
        self::assertLessThan(4.0, max($levels) - min($levels), implode(' ', $levels));
    }

    /**
     * @param array<string, float> $settings
     */
    private static function room(array $settings): ReverbSettings
    {
        return (new ReverbSettings('i1'))->with(['preDelayMs' => 0.0, 'early' => 0.0, 'lowCutHz' => 20.0, 'mix' => 100.0, 'direct' => false, ...$settings]);
    }

    /** @param list<float> $in */
    private static function ringing(ReverbSettings $settings, array $in, float $seconds): StereoBlock
    {
        $insert = $settings->insert(new Timing((float) self::RATE, Tempo::bpm(93)));
        $in = [...$in, ...array_fill(0, (int) ($seconds * self::RATE), 0.0)];

        return $insert->process(new StereoBlock($in, $in), null, $insert->rest(), 0)[0];
    }

    /** @param list<float> $power */
    private static function decay(array $power, int $from): float
    {
        $left = [];
        $sum = 0.0;
        for ($i = \count($power) - 1; $i >= $from; --$i) {
            $left[$i] = $sum += $power[$i];
        }
        $at = static function (float $db) use ($left, $sum, $from): int {
            for ($i = $from; isset($left[$i]) && $left[$i] > $sum * 10.0 ** ($db / 10.0); ++$i) {
            }

            return $i;
        };

        return 60.0 / 25.0 * ($at(-30.0) - $at(-5.0)) / self::RATE;
    }

    /** @param list<float> $sound */
    private static function density(array $sound, int $at): float
    {
        $part = \array_slice($sound, max(0, $at - 441), 882);
        $window = array_map(static fn (int $i): float => 0.5 - 0.5 * cos(2 * \M_PI * $i / 882), array_keys($part));
        $power = array_sum(array_map(static fn (float $x, float $w): float => $w * $x * $x, $part, $window)) / array_sum($window);
        $beyond = array_sum(array_map(static fn (float $x, float $w): float => $x * $x > $power ? $w : 0.0, $part, $window)) / array_sum($window);

        return $beyond / 0.3173;
    }
}
