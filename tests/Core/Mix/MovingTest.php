<?php

namespace Pestle\Tests\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Mix\EqBand;
use Pestle\Core\Mix\EqShape;
use Pestle\Core\Mix\EqualizerSettings;
use Pestle\Core\Mix\FixedInserts;
use Pestle\Core\Mix\GainCurve;
use Pestle\Core\Mix\InsertKind;
use Pestle\Core\Mix\InsertSettings;
use Pestle\Core\Mix\MovingEqualizer;
use Pestle\Core\Mix\MovingInserts;
use Pestle\Core\Mix\Timing;
use Pestle\Core\Signal\Noise;
use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Tempo;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** All settings of all inserts that can be moved: where they stand still they are as set, and moved from end to end they harm nothing. */
final class MovingTest extends TestCase
{
    private const FRAMES = 4096;

    /** @return iterable<string, array{InsertKind}> */
    public static function kinds(): iterable
    {
        foreach (InsertKind::cases() as $kind) {
            yield $kind->value => [$kind];
        }
    }

    #[DataProvider('kinds')]
    public function testWhatMovesStaysWithinBoundsAndStandingStillIsAsItIsSet(InsertKind $kind): void
    {
        $timing = new Timing(44100.0, Tempo::bpm(93));
        $in = $this->sound();
        $fresh = $kind->fresh('i1')->with(['on' => true]);
        self::assertInstanceOf(InsertSettings::class, $fresh);
        $tried = 0;
        foreach (['' => $fresh, ...$fresh->inner()] as $inside => $holder) {
            foreach (array_filter($holder::parameters(), static fn (Parameter $p): bool => $p->moves) as $field => $parameter) {
                $set = static fn (float $value): FixedInserts => new FixedInserts([self::with($fresh, (string) $inside, (string) $field, $value)], $timing);
                $value = $parameter->at(0.6);
                $once = $set($value)->process($in, self::FRAMES, [], $set($value)->rest(), 0)->sound;
                $steps = (new MovingInserts(static fn (): FixedInserts => $set($value), 256))->process($in, self::FRAMES, [], $set($value)->rest(), 0)->sound;
                $off = self::furthest($once ?? $in, $steps ?? $in);
                self::assertLessThan(3e-6, $off, $field.' that stands still');
                $swept = (new MovingInserts(static fn (int $k): FixedInserts => $set($parameter->at($k / 255)), 256))->process($in, self::FRAMES, [], $set($parameter->at(0.0))->rest(), 0);
                $peak = ($swept->sound ?? $in)->peak();
                self::assertTrue(is_finite($peak) && $peak < 40.0, \sprintf('%s from end to end: %g', $field, $peak));
                ++$tried;
            }
        }
        self::assertGreaterThan(0, $tried);
    }

    /** In one loop over all steps it is what it is made anew at each of them, to the bit: sound and state, of a part too, and where a band comes and goes. */
    public function testAnEqualizerThatMovesIsTheSameInOneLoop(): void
    {
        $timing = new Timing(44100.0, Tempo::bpm(93));
        $bands = [new EqBand(EqShape::HighPass, 60.0, on: true), new EqBand(EqShape::LowShelf, 120.0, 3.0, on: true), new EqBand(EqShape::Peak, 1200.0, -4.0, 1.0, true)];
        $fresh = new EqualizerSettings('i1', $bands);
        foreach ([[1, 'gainDb', static fn (int $k): float => 1.0 + $k / 64], [2, 'hz', static fn (int $k): float => 300.0 + 20 * $k], [2, 'gainDb', static fn (int $k): float => $k < 100 ? -4.0 : 0.0], [2, 'q', static fn (int $k): float => 0.5 + $k / 100]] as [$band, $field, $value]) {
            foreach ([$this->sound(), StereoBlock::silence(self::FRAMES), new StereoBlock($this->sound()->left, $this->sound()->left)] as $in) {
                $step = static function (int $k) use ($fresh, $band, $field, $value): EqualizerSettings {
                    $bands = $fresh->bands;
                    $bands[$band] = $bands[$band]->with([$field => $value($k)]);

                    return $fresh->with(['bands' => $bands]);
                };
                $fixed = static fn (int $k): FixedInserts => new FixedInserts([$step($k)], $timing);
                $once = new MovingEqualizer($fresh, ['bands/'.($band + 1) => [$field => array_map($value, range(0, 255))]], $fixed, 256, $timing);
                $each = new MovingInserts($fixed, 256);
                [$a, $b] = [$once->process($in, self::FRAMES, [], $once->rest(), 0), $each->process($in, self::FRAMES, [], $each->rest(), 0)];
                self::assertTrue($a->sound?->left === $b->sound?->left && $a->sound?->right === $b->sound?->right, $field);
                self::assertEquals($b->states, $a->states, $field);
                self::assertEquals($each->part($in, $a->states, [], 0), $once->part($in, $a->states, [], 0), $field);
            }
        }
    }

    /** Nearly everything moves; what does not says why. */
    public function testWhatCannotMoveSaysWhy(): void
    {
        $moving = $still = 0;
        foreach (InsertKind::cases() as $kind) {
            foreach ($kind->fresh('i1')::parameters() as $field => $parameter) {
                $parameter->moves ? ++$moving : ++$still;
                self::assertSame($parameter->moves, '' === $parameter->whyNot(), $field);
                if (!$parameter->moves && null === $parameter->choice && !\is_bool($parameter->default) && !$parameter->whole) {
                    self::assertNotSame('it is settled before the sound begins.', $parameter->whyNot(), $kind->value.' '.$field);
                }
            }
        }
        self::assertGreaterThan(55, $moving);
    }

    private static function with(InsertSettings $insert, string $inside, string $field, float $value): InsertSettings
    {
        $changed = '' === $inside ? $insert->with([$field => $value]) : $insert->withInner($inside, $insert->inner()[$inside]->with([$field => $value]));
        self::assertInstanceOf(InsertSettings::class, $changed);

        return $changed;
    }

    private static function furthest(StereoBlock $one, StereoBlock $other): float
    {
        $most = 0.0;
        foreach ($one->left as $i => $x) {
            $most = max($most, abs($x - $other->left[$i]), abs($one->right[$i] - $other->right[$i]));
        }

        return $most;
    }

    /** Noise that comes and goes, so that what listens has something to hear. */
    private function sound(): StereoBlock
    {
        $noise = (new Noise(5))->block(2 * self::FRAMES);
        $shaped = static fn (int $from): array => array_map(static fn (int $i): float => 0.4 * $noise[$from + $i] * (0.1 + abs(sin($i / 500.0))), range(0, self::FRAMES - 1));

        self::assertSame(0, self::FRAMES % GainCurve::STEP);

        return new StereoBlock($shaped(0), $shaped(self::FRAMES));
    }
}
