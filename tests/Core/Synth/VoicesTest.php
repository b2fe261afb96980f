<?php

namespace Pestle\Tests\Core\Synth;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Signal\Window;
use Pestle\Core\Synth\Click;
use Pestle\Core\Synth\DrumVoices;
use Pestle\Core\Synth\OldPiano;
use Pestle\Core\Synth\Room;
use Pestle\Core\Synth\TonalVoices;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class VoicesTest extends TestCase
{
    /** @return iterable<string, array{callable(): StereoBlock}> */
    public static function sounds(): iterable
    {
        $drums = new DrumVoices(44100);
        $tones = new TonalVoices(44100);
        yield 'kick' => [static fn (): StereoBlock => $drums->kick()];
        yield 'snare' => [static fn (): StereoBlock => $drums->snare()];
        yield 'shaker' => [static fn (): StereoBlock => $drums->shaker()];
        yield 'open hat' => [static fn (): StereoBlock => $drums->openHat()];
        yield 'clap' => [static fn (): StereoBlock => $drums->clap()];
        yield 'ring' => [static fn (): StereoBlock => $drums->ring()];
        yield 'bass' => [static fn (): StereoBlock => $tones->bass(38)];
        yield 'hum' => [static fn (): StereoBlock => $tones->hum([[69, 0.0, 0.4], [65, 0.4, 0.5]], 1.0)];
        yield 'piano' => [static fn (): StereoBlock => (new OldPiano(44100))->recording([[60, 0.1, 0.5, 90], [64, 0.1, 0.5, 60]], 1.0)];
    }

    /** @param callable(): StereoBlock $make */
    #[DataProvider('sounds')]
    public function testEverySoundIsCleanAtBothEnds(callable $make): void
    {
        $sound = $make();
        self::assertGreaterThan(0.4, $sound->peak());
        self::assertLessThanOrEqual(0.81, $sound->peak());
        foreach ([$sound->left, $sound->right] as $side) {
            self::assertLessThan(0.001, abs(array_sum($side) / \count($side)), 'no offset');
            self::assertLessThan(0.002, Peak::of(\array_slice($side, -8)), 'ends in silence');
        }
        self::assertEquals($sound, $make(), 'made again, it is the same');
    }

    public function testTheKickFallsToItsTone(): void
    {
        $kick = (new DrumVoices(44100))->kick(150.0, 48.0);
        self::assertEqualsWithDelta(48.0, self::loudest(\array_slice($kick->left, 8000, 16384)), 3.0);
    }

    public function testTheBassHasItsPitchAndFewOvertones(): void
    {
        foreach ([33.0, 38.0, 45.0] as $note) {
            $bass = (new TonalVoices(44100))->bass($note)->left;
            self::assertEqualsWithDelta(TonalVoices::hz($note), self::loudest(\array_slice($bass, 8000, 32768)), 1.4);
        }
        self::assertEqualsWithDelta(440.0, TonalVoices::hz(69), 1e-9);
        self::assertEqualsWithDelta(261.626, TonalVoices::hz(60), 1e-3);
    }

    public function testNothingFoldsBackFromTheTop(): void
    {
        // The hat's squares are made of harmonics below half the rate: nothing may lie under its lowest one but noise.
        $hat = (new DrumVoices(44100))->openHat()->left;
        $spectrum = self::spectrum(\array_slice($hat, 0, 16384));
        $below = Peak::of(\array_slice($spectrum, 0, (int) (250 * 16384 / 44100)));
        self::assertLessThan(-50.0, Decibels::fromGain($below / Peak::of($spectrum)));
    }

    public function testAPianoLoopGoesRound(): void
    {
        // A note that sounds beyond the end comes round to the start.
        $loop = (new OldPiano(44100))->recording([[60, 0.8, 0.6, 100]], 1.0);
        $start = Peak::of(\array_slice($loop->left, 200, 2000));
        self::assertGreaterThan(0.05, $start);
    }

    public function testARoomDiesAwayInItsTime(): void
    {
        $impulse = array_fill(0, 44100, 0.0);
        $impulse[0] = 1.0;
        [$left, $right] = (new Room(44100, 0.4, 0.0))->of($impulse);
        $level = static fn (int $at): float => sqrt(array_sum(array_map(static fn (float $x): float => $x * $x, \array_slice($left, $at, 4410))) / 4410);
        self::assertEqualsWithDelta(-30.0, Decibels::fromGain($level(13230) / $level(4410)), 6.0);
        self::assertNotSame($left, $right);
    }

    public function testTheTwoClicksDiffer(): void
    {
        $click = Click::Wood->both(44100);
        $half = intdiv($click->frames(), 2);
        self::assertSame((int) round(Click::SECONDS * 44100), $half);
        self::assertNotSame(\array_slice($click->left, 0, $half), \array_slice($click->left, $half));
        self::assertLessThan(0.01, Peak::of(\array_slice($click->left, $half - 5, 5)));
    }

    /** @param list<float> $signal */
    private static function loudest(array $signal): float
    {
        $spectrum = self::spectrum($signal);
        $k = (int) array_search(Peak::of($spectrum), $spectrum, true);

        return $k * 44100 / \count($signal);
    }

    /**
     * @param list<float> $signal as long as a power of two
     *
     * @return list<float>
     */
    private static function spectrum(array $signal): array
    {
        $window = Window::hann(\count($signal));

        return (new Fft(\count($signal)))->magnitudes(array_map(static fn (float $x, float $w): float => $x * $w, $signal, $window));
    }
}
