<?php

namespace Pestle\Tests\Core\Analysis;

use Pestle\Core\Analysis\Answer;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\StereoBlock;
use PHPUnit\Framework\TestCase;

/** How late a box answers is found in what was recorded of it, through its own hiss and hum. */
final class AnswerTest extends TestCase
{
    private const RATE = 44100;

    public function testHowLateItIsIsFoundToAMillisecond(): void
    {
        $seed = random_int(1, 1_000_000);
        mt_srand($seed);
        for ($i = 0; $i < 30; ++$i) {
            $late = mt_rand(0, 20_000);
            $sent = mt_rand(15_000, 40_000);
            $attack = mt_rand(1, 40);
            $noise = 0.006 * mt_rand() / mt_getrandmax();
            $answer = Answer::in(self::recorded($sent + $late, $attack, $noise, mt_rand(40, 2000)), $sent);
            self::assertNotNull($answer, "seed $seed, turn $i");
            self::assertGreaterThanOrEqual($late, $answer->late, "seed $seed, turn $i");
            self::assertLessThanOrEqual($late + 44, $answer->late, "seed $seed, turn $i");
            self::assertEqualsWithDelta(20.0 * log10(max(1e-4, $noise)), $answer->noiseDb, 1.0, "seed $seed, turn $i");
        }
    }

    public function testWhatDoesNotAnswerIsTold(): void
    {
        self::assertNull(Answer::in(self::recorded(200_000, 1, 0.004, 100), 30_000));
        self::assertNull(Answer::in(self::recorded(200_000, 1, 0.0, 100), 30_000));
        self::assertNull(Answer::in(self::recorded(20, 1, 0.0, 100), 10_000_000), 'a place beyond its end');
    }

    /** Noise with a peak, and a note from a frame on that rises within so many. */
    private static function recorded(int $begins, int $attack, float $noise, float $hz): MemorySource
    {
        $sound = [];
        for ($i = 0; $i < 120_000; ++$i) {
            $hiss = $noise * (0.5 * sin(2 * \M_PI * 50 * $i / self::RATE) + 0.5 * (2 * mt_rand() / mt_getrandmax() - 1));
            $gone = $i - $begins;
            // A saw, as bright as it is struck.
            $saw = $gone < 0 ? 0.0 : 0.4 * min(1.0, ($gone + 1) / $attack) * (1 - 2 * fmod($gone * $hz / self::RATE, 1.0));
            $sound[] = $hiss + $saw;
        }

        return new MemorySource(new StereoBlock($sound, $sound), self::RATE);
    }
}
