<?php

namespace Pestle\Tests\Core\Sample;

use Pestle\Core\Analysis\Onsets;
use Pestle\Core\Analysis\OnsetStrength;
use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Sample\Edit;
use Pestle\Core\Sample\EditKind;
use Pestle\Core\Sample\Material;
use Pestle\Core\Sample\Stretched;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Synth\DrumVoices;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;

final class StretchedTest extends TestCase
{
    private const SPECTRUM = 16384;

    /** @return iterable<string, array{float}> */
    public static function ratios(): iterable
    {
        yield 'half' => [0.5];
        yield 'shorter' => [0.79];
        yield 'longer' => [1.26];
        yield 'double' => [2.0];
    }

    /** A steady tone stays within 2 cents, and whatever is beside it stays 50 dB below. */
    #[DataProvider('ratios')]
    public function testAToneStaysPure(float $ratio): void
    {
        foreach ([110.0, 997.0, 5000.0] as $hz) {
            $sine = Sounds::sine($hz, 66150, 44100, 0.5);
            $stretched = Stretched::by(new MemorySource(new StereoBlock($sine, $sine), 44100), $ratio, Material::Tones);
            self::assertSame((int) round(66150 * $ratio), $stretched->frames());
            $piece = $stretched->read(intdiv($stretched->frames() - self::SPECTRUM, 2), self::SPECTRUM)->left;
            $m = (new Fft(self::SPECTRUM))->magnitudes(array_map(static fn (float $x, int $i): float => $x * self::window($i), $piece, array_keys($piece)));
            $k = (int) array_search(Peak::of($m), $m, true);
            [$a, $b, $c] = [log($m[$k - 1]), log($m[$k]), log($m[$k + 1])];
            $found = ($k + 0.5 * ($a - $c) / ($a - 2 * $b + $c)) * 44100 / self::SPECTRUM;
            self::assertEqualsWithDelta(0.0, 1200 * log($found / $hz, 2), 2.0, "$hz Hz");
            $beside = Peak::of([...\array_slice($m, 0, $k - 5), ...\array_slice($m, $k + 6)]);
            self::assertLessThan(-50.0, 20 * log10($beside / $m[$k]), "$hz Hz");
        }
    }

    /** Over a chord that goes on, also hits that begin softly lie within a millisecond of where the stretch puts them. */
    #[TestWith([0.001, 150.0, 2.0])]
    #[TestWith([0.008, 150.0, 2.0])]
    #[TestWith([0.003, 6000.0, 0.1])]
    public function testSoftHitsOverAChordComeInTime(float $attack, float $hz, float $before): void
    {
        $hit = [];
        for ($i = 0; $i < 8000; ++$i) {
            $hit[] = 0.4 * min(1.0, $i / ($attack * 44100)) * exp(-$i / 1800.0) * cos(2 * \M_PI * $hz / 44100 * (400.0 * (1.0 - exp(-$i / 400.0)) + 0.35 * $i));
        }
        $places = array_map(static fn (int $k): int => 13000 + 22050 * $k + 137 * $k, range(0, 5));
        $sound = [];
        for ($i = 0; $i < 150000; ++$i) {
            $sound[] = 0.15 * (sin(0.0313 * $i) + sin(0.0395 * $i + 1.0) + 0.5 * sin(0.0939 * $i) + 0.4 * sin(0.119 * $i));
        }
        foreach ($places as $place) {
            foreach ($hit as $i => $x) {
                $sound[$place + $i] = ($sound[$place + $i] ?? 0.0) + $x;
            }
        }
        $source = new MemorySource(new StereoBlock(array_values($sound), array_values($sound)), 44100);
        $off = [];
        foreach ([1, 2] as $version) {
            foreach ([125.0, 200.0] as $percent) {
                $edit = new Edit(EditKind::Stretch, null, null, ['percent' => $percent, 'material' => 'hits', 'attacks' => $version]);
                $stretched = $edit->apply($source)->read(0, (int) (150000 * $percent / 100))->left;
                foreach ($places as $place) {
                    $off[$version][] = abs(self::lag($stretched, (int) round($place * $percent / 100), $hit)) / 44.1;
                }
            }
        }
        self::assertLessThan(1.0, max($off[2]), implode(' ', $off[2]));
        self::assertGreaterThan($before, max($off[1]), 'as it was by the first version');
    }

    /**
     * By how many frames a hit lies before or after its place: where its beginning, which is kept as it was, is most alike.
     *
     * @param list<float> $sound
     * @param list<float> $hit
     */
    private static function lag(array $sound, int $place, array $hit): int
    {
        $best = [-1.0, 0];
        for ($lag = -1000; $lag <= 1000; ++$lag) {
            $alike = 0.0;
            for ($i = 0; $i < 1500; ++$i) {
                $alike += $hit[$i] * $sound[$place + $lag + $i];
            }
            $best = $alike > $best[0] ? [$alike, $lag] : $best;
        }

        return $best[1];
    }

    /** Every hit is found within 5 ms of its new place, and there are no others. */
    #[DataProvider('ratios')]
    public function testHitsKeepTheirAttack(float $ratio): void
    {
        [$drums, $places] = self::drums();
        $stretched = Stretched::by($drums, $ratio, Material::Hits, $places);
        $found = Onsets::find($stretched, 0.4, 0.05);
        self::assertCount(\count($places), $found);
        foreach ($places as $i => $place) {
            self::assertEqualsWithDelta($place * $ratio, $found[$i], 0.005 * 44100);
            // The attack itself is the recording's, to the sample.
            $at = (int) round($place * $ratio);
            self::assertEqualsWithDelta($drums->read($place + 30, 600)->left, $stretched->read($at + 30, 600)->left, 2e-3);
        }
    }

    /** In the 15 ms before a hit there is no edge that was not there before: no tick, nothing of the attack. */
    #[DataProvider('ratios')]
    public function testNothingIsHeardBeforeAHit(float $ratio): void
    {
        foreach ([[], [110.0, 164.8, 220.0], [220.0, 277.2, 329.6, 440.0, 1320.0]] as $chord) {
            [$drums, $places] = self::drums($chord);
            $stretched = Stretched::by($drums, $ratio, Material::Hits, $places);
            foreach ($places as $place) {
                $at = (int) round($place * $ratio);
                // The first lies so near the start that this is heard as well.
                $length = min(660, $at - 50);
                [$before, $after] = [self::edge($drums->read($place - $length, $length - 5)->left), self::edge($stretched->read($at - $length, $length - 5)->left)];
                // Below -100 dBFS nobody hears it.
                self::assertLessThan(max(1e-5, 2.0 * $before), $after, \sprintf('%d tones, %.2f s', \count($chord), $place / 44100));
            }
        }
    }

    #[DataProvider('ratios')]
    public function testSubBassKeepsItsLevelUnderHits(float $ratio): void
    {
        foreach ([25.0, 32.7, 41.2] as $hz) {
            $tone = Sounds::sine($hz, 66150, 44100, 0.5);
            $stretched = Stretched::by(new MemorySource(new StereoBlock($tone, $tone), 44100), $ratio, Material::Hits, [0]);
            $period = (int) (2 * 44100 / $hz);
            for ($at = 4410; $at + $period < $stretched->frames(); $at += 1500) {
                $power = array_sum(array_map(static fn (float $x): float => $x * $x, $stretched->read($at, $period)->left)) / $period;
                self::assertEqualsWithDelta(0.0, 10.0 * log10($power / 0.125), 1.0, "$hz Hz at $at");
            }
        }
    }

    public function testTheSameLengthIsTheSameSound(): void
    {
        [$drums, $places] = self::drums();
        foreach ([Material::Hits, Material::Tones] as $material) {
            $same = Stretched::by($drums, 1.0, $material, $places);
            self::assertEqualsWithDelta($drums->read(0, 40000)->left, $same->read(0, 40000)->left, 1e-6);
        }
    }

    public function testBothSidesAreTurnedAlike(): void
    {
        $left = Sounds::sine(300, 44100, 44100, 0.5);
        $right = array_map(static fn (float $x): float => -0.25 * $x, $left);
        $block = Stretched::by(new MemorySource(new StereoBlock($left, $right), 44100), 1.4, Material::Tones)->read(20000, 5000);
        foreach ($block->left as $i => $l) {
            self::assertEqualsWithDelta(-0.25 * $l, $block->right[$i], 1e-5);
        }
    }

    public function testItCanBeReadAnywhereAndRefusesNonsense(): void
    {
        [$drums, $places] = self::drums();
        $stretched = Stretched::by($drums, 1.3, Material::Hits, $places);
        $late = $stretched->read(50000, 1000);
        self::assertEquals($late->left, \array_slice($stretched->read(49000, 3000)->left, 1000, 1000));
        self::assertSame(0.0, $stretched->read($stretched->frames(), 100)->peak());
        $tiny = Stretched::by(new MemorySource(new StereoBlock([0.5], [0.5]), 44100), 2.0, Material::Tones);
        self::assertSame(2, $tiny->frames());
        self::assertCount(2, $tiny->read(0, 2)->left);
        // Any rate, with hits anywhere.
        foreach ([1000, 2000, 4000, 8000, 22050, 192000] as $rate) {
            $noise = Sounds::hit(2, 6000, 0.5);
            foreach (Material::cases() as $material) {
                $odd = Stretched::by(new MemorySource($noise, $rate), 1.3, $material, [10, 300, 390, 2000, 5990]);
                self::assertSame(7800, $odd->frames());
                self::assertGreaterThan(0.1, $odd->read(0, 7800)->peak());
                self::assertLessThan(1.5, $odd->read(0, 7800)->peak());
            }
        }
        $this->expectException(\InvalidArgumentException::class);
        Stretched::by($drums, 5.0, Material::Tones);
    }

    /** Of a long sustained sound no more is read than around the place that is wanted, and it sounds as if all of it had been. */
    public function testASustainedSoundBeginsAnywhere(): void
    {
        [$rate, $ratio] = [8000, 1.26];
        $tone = Sounds::sine(220.0, 40 * $rate, $rate, 0.5);
        $source = new class(new MemorySource(new StereoBlock($tone, $tone), $rate)) implements AudioSource {
            public int $first = \PHP_INT_MAX;

            public function __construct(private readonly AudioSource $source)
            {
            }

            public function sampleRate(): int
            {
                return $this->source->sampleRate();
            }

            public function frames(): int
            {
                return $this->source->frames();
            }

            public function read(int $start, int $count): StereoBlock
            {
                $this->first = min($this->first, $start);

                return $this->source->read($start, $count);
            }
        };
        $late = Stretched::by($source, $ratio, Material::Tones)->read(45 * $rate, $rate)->left;
        self::assertGreaterThan((45 - 25) / $ratio * $rate, $source->first, 'What comes long before it was read.');

        $whole = Stretched::by($source, $ratio, Material::Tones);
        $all = $whole->read(0, $whole->frames())->left;
        self::assertTrue($late === \array_slice($all, 45 * $rate, $rate), 'It sounds different when it is begun late.');
        // Over all its seams a steady tone keeps its level and its pitch.
        foreach (array_chunk(\array_slice($all, $rate, -$rate), 400) as $i => $piece) {
            self::assertEqualsWithDelta(0.125, array_sum(array_map(static fn (float $x): float => $x * $x, $piece)) / \count($piece), 0.003, "piece $i");
        }
        $crossings = \count(array_filter(array_keys($all), static fn (int $i): bool => $i >= $rate && $i < 49 * $rate && $all[$i - 1] < 0.0 && $all[$i] >= 0.0));
        self::assertEqualsWithDelta(220.0 * 48, $crossings, 2.0);
    }

    public function testWhatItIsMadeOfIsHeard(): void
    {
        self::assertSame(Material::Hits, Material::byHighShare(OnsetStrength::of(self::drums()[0])->highShare()));
        $chord = array_map(static fn (float $a, float $b, float $c): float => $a + $b + $c, Sounds::sine(220, 88200, 44100, 0.2), Sounds::sine(277, 88200, 44100, 0.2), Sounds::sine(330, 88200, 44100, 0.2));
        self::assertSame(Material::Tones, Material::byHighShare(OnsetStrength::of(new MemorySource(new StereoBlock($chord, $chord), 44100))->highShare()));
    }

    /**
     * The largest bend, by which an edge in something smooth is found.
     *
     * @param list<float> $signal
     */
    private static function edge(array $signal): float
    {
        $largest = 0.0;
        for ($i = 1; $i < \count($signal) - 1; ++$i) {
            $largest = max($largest, abs($signal[$i - 1] - 2.0 * $signal[$i] + $signal[$i + 1]));
        }

        return $largest;
    }

    /**
     * @param list<float> $chord tones under them, in Hz
     *
     * @return array{MemorySource, list<int>}
     */
    private static function drums(array $chord = []): array
    {
        $kit = new DrumVoices(44100);
        $mix = array_fill(0, 88200, 0.0);
        $places = [];
        foreach ([$kit->kick(), $kit->shaker(), $kit->snare(), $kit->shaker(), $kit->kick(), $kit->clap()] as $i => $sound) {
            $places[] = $at = 1000 + 14000 * $i;
            foreach ($sound->left as $n => $x) {
                if (isset($mix[$at + $n])) {
                    $mix[$at + $n] += 0.6 * $x;
                }
            }
        }

        foreach ($chord as $hz) {
            $mix = array_map(static fn (float $a, float $b): float => $a + $b, $mix, Sounds::sine($hz, 88200, 44100, 0.1));
        }

        return [new MemorySource(new StereoBlock($mix, $mix), 44100), $places];
    }

    /** Four-term Blackman-Harris: side lobes below -92 dB. */
    private static function window(int $i): float
    {
        $t = 2 * \M_PI * $i / self::SPECTRUM;

        return 0.35875 - 0.48829 * cos($t) + 0.14128 * cos(2 * $t) - 0.01168 * cos(3 * $t);
    }
}
