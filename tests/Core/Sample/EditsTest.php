<?php

namespace Pestle\Tests\Core\Sample;

use Pestle\Core\Analysis\Loudness;
use Pestle\Core\Analysis\PitchGuess;
use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Render\NotMadeYet;
use Pestle\Core\Render\NotWantedAnyMore;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\WorkedOut;
use Pestle\Core\Sample\Edit;
use Pestle\Core\Sample\EditKind;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Sample\FadeShape;
use Pestle\Core\Sample\Snap;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\Noise;
use Pestle\Core\Signal\Peak;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class EditsTest extends TestCase
{
    private const FRAMES = 20000;

    public function testKeepingAndCuttingOut(): void
    {
        $source = self::noise();
        $whole = $source->read(0, self::FRAMES)->left;
        $kept = (new Edit(EditKind::Keep, 1000, 5000))->apply($source);
        self::assertSame(\array_slice($whole, 1000, 4000), $kept->read(0, $kept->frames())->left);
        $cut = (new Edit(EditKind::Cut, 1000, 5000))->apply($source);
        self::assertSame(self::FRAMES - 4000, $cut->frames());
        $left = $cut->read(0, $cut->frames())->left;
        self::assertSame(\array_slice($whole, 0, 900), \array_slice($left, 0, 900));
        self::assertSame(\array_slice($whole, 5200), \array_slice($left, 1200));
        // A cut may not take everything.
        self::assertSame(self::FRAMES, (new Edit(EditKind::Cut, 0, self::FRAMES))->apply($source)->frames());
    }

    /** A cent is heard as a cent, and a twentieth of a percent of speed as just that. */
    public function testTheSmallestStepsAreMade(): void
    {
        $sine = Sounds::sine(997.0, 88200);
        $tone = new MemorySource(new StereoBlock($sine, $sine), 44100);
        $note = 69.0 + 12.0 * log(997.0 / 440.0, 2);
        $higher = PitchGuess::of((new Edit(EditKind::Pitch, null, null, ['cents' => 1.0, 'material' => 'tones']))->apply($tone));
        self::assertEqualsWithDelta(1.0, 100.0 * (($higher->note ?? 0.0) - $note), 0.2);
        $faster = (new Edit(EditKind::Speed, null, null, ['percent' => 100.05]))->apply($tone)->read(2000, 40000)->left;
        self::assertLessThan(-90.0, Sounds::unwanted($faster, 997.0 * 1.0005, 44100));
    }

    /** At a cut in a steady tone no step is larger than the tone itself makes. */
    public function testACutIsSmoothed(): void
    {
        $tone = new MemorySource(new StereoBlock($sine = Sounds::sine(200, self::FRAMES, 44100, 0.8), $sine), 44100);
        $cut = (new Edit(EditKind::Cut, 5000, 8050))->apply($tone)->read(0, self::FRAMES - 3050)->left;
        $largest = 0.0;
        for ($i = 1; $i < \count($cut); ++$i) {
            $largest = max($largest, abs($cut[$i] - $cut[$i - 1]));
        }
        self::assertLessThan(0.8 * 2 * \M_PI * 200 / 44100 + 0.02, $largest);
    }

    /** @return iterable<string, array{Edit}> */
    public static function changesOfAPart(): iterable
    {
        foreach (['tones', 'hits'] as $material) {
            yield 'stretch '.$material => [new Edit(EditKind::Stretch, 7000, 15000, ['percent' => 125.0, 'material' => $material])];
            yield 'pitch '.$material => [new Edit(EditKind::Pitch, 7000, 15000, ['cents' => -400.0, 'material' => $material])];
        }
        yield 'gain' => [new Edit(EditKind::Gain, 7000, 15000, ['db' => -9.0])];
        yield 'fade' => [new Edit(EditKind::FadeIn, 7000, 15000, ['shape' => 'straight'])];
        yield 'reverse' => [new Edit(EditKind::Reverse, 7000, 15000)];
    }

    /** Where a changed part of a tone begins and ends, there is no bend that the tone does not have. */
    #[DataProvider('changesOfAPart')]
    public function testAChangedPartHasNoEdges(Edit $edit): void
    {
        $tone = Sounds::sine(220, self::FRAMES, 44100, 0.4);
        $made = Sounds::whole($edit->apply(new MemorySource(new StereoBlock($tone, $tone), 44100)))->left;
        self::assertLessThan(2.0 * self::bend($tone), self::bend($made));
    }

    /** @param list<float> $signal */
    private static function bend(array $signal): float
    {
        $largest = 0.0;
        for ($i = 600; $i < \count($signal) - 600; ++$i) {
            $largest = max($largest, abs($signal[$i - 1] - 2.0 * $signal[$i] + $signal[$i + 1]));
        }

        return $largest;
    }

    public function testLevels(): void
    {
        $source = self::noise();
        $level = static fn (Edit $edit, int $at): float => $edit->apply($source)->read($at, 2000)->peak() / $source->read($at, 2000)->peak();
        self::assertEqualsWithDelta(2.0, $level(new Edit(EditKind::Gain, null, null, ['db' => 6.0206]), 0), 1e-4);
        // On a selection: after it the sound is as it was.
        $part = new Edit(EditKind::Gain, 0, 4000, ['db' => -20.0]);
        self::assertEqualsWithDelta(0.1, $level($part, 1000), 1e-6);
        self::assertSame(1.0, $level($part, 6000));
        self::assertLessThan(1e-9, (new Edit(EditKind::Silence, 2000, 9000))->apply($source)->read(3000, 5000)->peak());
        $normal = (new Edit(EditKind::Normalise, null, null, ['measure' => 'peak', 'db' => -1.0]))->apply($source);
        self::assertEqualsWithDelta(10 ** (-1 / 20), $normal->read(0, self::FRAMES)->peak(), 1e-4);
        $loud = (new Edit(EditKind::Normalise, null, null, ['measure' => 'loudness', 'db' => -20.0]))->apply(self::noise(100000));
        self::assertEqualsWithDelta(-20.0, Loudness::of($loud)->integratedLufs, 0.1);
    }

    public function testFadesMoveAsTheyAreNamed(): void
    {
        $ones = new MemorySource(new StereoBlock($o = array_fill(0, 1001, 0.5), $o), 44100);
        $at = static fn (string $shape, EditKind $kind, int $frame): float => 2 * (new Edit($kind, null, null, ['shape' => $shape]))->apply($ones)->read($frame, 1)->left[0];
        foreach (FadeShape::cases() as $shape) {
            self::assertEqualsWithDelta(0.0, $at($shape->value, EditKind::FadeIn, 0), 1e-9);
            self::assertEqualsWithDelta(1.0, $at($shape->value, EditKind::FadeIn, 1000), 1e-9);
            self::assertEqualsWithDelta($at($shape->value, EditKind::FadeIn, 300), $at($shape->value, EditKind::FadeOut, 700), 1e-9);
        }
        self::assertEqualsWithDelta(0.5, $at('straight', EditKind::FadeIn, 500), 1e-3);
        self::assertLessThan(0.3, $at('slow', EditKind::FadeIn, 500));
        self::assertGreaterThan(0.7, $at('fast', EditKind::FadeIn, 500));
        self::assertEqualsWithDelta(0.5, $at('s', EditKind::FadeIn, 500), 1e-3);
        self::assertLessThan($at('straight', EditKind::FadeIn, 200), $at('s', EditKind::FadeIn, 200));
    }

    public function testReversingTwiceIsNothing(): void
    {
        $source = self::noise();
        $once = (new Edit(EditKind::Reverse, null, null))->apply($source);
        self::assertSame(array_reverse($source->read(0, self::FRAMES)->left), $once->read(0, self::FRAMES)->left);
        self::assertEquals($source->read(77, 500), (new Edit(EditKind::Reverse, null, null))->apply($once)->read(77, 500));
    }

    public function testPitchKeepsLengthAndStretchKeepsPitch(): void
    {
        $tone = new MemorySource(new StereoBlock($sine = Sounds::sine(220, 66150, 44100, 0.5), $sine), 44100);
        $note = static fn (AudioSource $s): float => PitchGuess::of($s)->note ?? 0.0;
        foreach ([700.0, -500.0, 1200.0] as $cents) {
            $moved = (new Edit(EditKind::Pitch, null, null, ['cents' => $cents, 'material' => 'tones']))->apply($tone);
            self::assertEqualsWithDelta(66150, $moved->frames(), 2);
            self::assertEqualsWithDelta(57.0 + $cents / 100, $note($moved), 0.02);
        }
        $long = (new Edit(EditKind::Stretch, null, null, ['percent' => 150.0, 'material' => 'tones']))->apply($tone);
        self::assertSame(99225, $long->frames());
        self::assertEqualsWithDelta(57.0, $note($long), 0.02);
        $fast = (new Edit(EditKind::Speed, null, null, ['percent' => 200.0]))->apply($tone);
        self::assertEqualsWithDelta(33075, $fast->frames(), 1);
        self::assertEqualsWithDelta(69.0, $note($fast), 0.02);
    }

    /** Without filters a tone above half the low rate folds down; with them it is gone. */
    public function testAnOldConverterFoldsOnlyWithoutItsFilters(): void
    {
        $tone = new MemorySource(new StereoBlock($sine = Sounds::sine(9000, 32768, 44100, 0.5), $sine), 44100);
        $loudest = static function (int $filters) use ($tone): array {
            $magnitudes = (new Fft(16384))->magnitudes((new Edit(EditKind::Converter, null, null, ['bits' => 12, 'rate' => 11025, 'filters' => $filters]))->apply($tone)->read(8192, 16384)->left);
            $most = Peak::of($magnitudes);

            return [$most, array_search($most, $magnitudes, true) * 44100 / 16384];
        };
        [$folded, $hz] = $loudest(0);
        self::assertGreaterThan(500.0, $folded);
        self::assertEqualsWithDelta(2025, $hz, 20);
        self::assertLessThan(0.01 * $folded, $loudest(1)[0]);
        // Few bits mean few values.
        $coarse = (new Edit(EditKind::Converter, null, null, ['bits' => 3, 'rate' => 44100, 'filters' => 0]))->apply($tone)->read(0, 5000)->left;
        self::assertLessThanOrEqual(8, \count(array_unique(array_map(strval(...), $coarse))));
    }

    public function testMono(): void
    {
        $source = new MemorySource(new StereoBlock([0.5, 0.1], [-0.1, 0.3]), 44100);
        $mono = static fn (string $side): StereoBlock => (new Edit(EditKind::Mono, null, null, ['side' => $side]))->apply($source)->read(0, 2);
        self::assertEqualsWithDelta([0.2, 0.2], $mono('sum')->left, 1e-12);
        self::assertSame($mono('sum')->left, $mono('sum')->right);
        self::assertSame([0.5, 0.1], $mono('left')->right);
        self::assertSame([-0.1, 0.3], $mono('right')->left);
    }

    public function testOrderIsHeardAndWhatIsOffIsNot(): void
    {
        $source = self::noise();
        $gain = new Edit(EditKind::Gain, null, null, ['db' => -24.0]);
        $coarse = new Edit(EditKind::Converter, null, null, ['bits' => 6, 'rate' => 44100, 'filters' => 0]);
        $a = (new Edits([$gain, $coarse]))->apply($source)->read(0, 3000);
        $b = (new Edits([$coarse, $gain]))->apply($source)->read(0, 3000);
        self::assertNotEquals($a, $b);
        self::assertEquals($gain->apply($source)->read(0, 3000), (new Edits([$gain, $coarse->with(false)]))->apply($source)->read(0, 3000));
        self::assertSame('x', (new Edits([$gain->with(false)]))->of('x'));
    }

    /** @return iterable<string, array{list<Edit>}> */
    public static function chains(): iterable
    {
        yield 'length' => [[new Edit(EditKind::Keep, 500, 15000), new Edit(EditKind::Cut, 3000, 4000), new Edit(EditKind::Stretch, null, null, ['percent' => 120.0, 'material' => 'tones'])]];
        yield 'selections' => [[new Edit(EditKind::Reverse, 2000, 9000), new Edit(EditKind::Stretch, 1000, 5000, ['percent' => 60.0, 'material' => 'hits']), new Edit(EditKind::Gain, 5, 900, ['db' => 3.0])]];
        yield 'a trace faster' => [[new Edit(EditKind::Speed, null, null, ['percent' => 100.05]), new Edit(EditKind::Speed, 100, 9000, ['percent' => 99.95])]];
        yield 'a trace higher' => [[new Edit(EditKind::Pitch, null, null, ['cents' => 1.0, 'material' => 'tones']), new Edit(EditKind::Pitch, 700, 15001, ['cents' => -1.0, 'material' => 'tones'])]];
        yield 'repeats' => [[new Edit(EditKind::Repeat, 3000, 7000), new Edit(EditKind::Repeat, 0, 2000), new Edit(EditKind::Cut, 100, 900)]];
        yield 'speed' => [[new Edit(EditKind::Speed, 4000, 12000, ['percent' => 150.0]), new Edit(EditKind::FadeOut, 10000, null, ['shape' => 's']), new Edit(EditKind::Mono, null, null, ['side' => 'sum'])]];
    }

    /**
     * The length that is told is the length that is made, what is read in pieces is what is read at once, and a
     * place followed to the source and back is where it was.
     *
     * @param list<Edit> $list
     */
    #[DataProvider('chains')]
    public function testChainsHoldTogether(array $list): void
    {
        $edits = new Edits($list);
        $made = $edits->apply(self::noise());
        self::assertSame($edits->length(self::FRAMES), $made->frames());
        $whole = $made->read(0, $made->frames());
        $pieces = StereoBlock::silence(0);
        for ($at = 0; $at < $made->frames(); $at += 777) {
            $pieces = $pieces->append($made->read($at, min(777, $made->frames() - $at)));
        }
        self::assertEqualsWithDelta($whole->left, $pieces->left, 1e-9);
        foreach (range(0, $edits->length(self::FRAMES) - 1, 611) as $frame) {
            $back = $edits->fromSource($edits->toSource($frame, self::FRAMES), self::FRAMES);
            // What sounds twice is found where it sounds first.
            self::assertTrue(abs($frame - $back) <= 2 || [] !== array_filter($list, static fn (Edit $e): bool => EditKind::Repeat === $e->kind));
        }
        self::assertSame(0.0, $made->read(-50, 50)->peak());
        self::assertSame(0.0, $made->read($made->frames(), 50)->peak());
    }

    public function testPlacesToCutAt(): void
    {
        $silence = array_fill(0, 9000, 0.0);
        $sound = [...$silence, ...Sounds::sine(100, 9000, 44100, 0.5), ...$silence];
        $source = new MemorySource(new StereoBlock($sound, $sound), 44100);
        [$from, $to] = Snap::sounding($source);
        self::assertEqualsWithDelta(9000, $from, 3);
        self::assertEqualsWithDelta(18000, $to, 4);
        $zero = Snap::toZero($source, 9000 + 300);
        self::assertEqualsWithDelta(9000 + 220.5, $zero, 2);
        $drums = [...$silence, ...Sounds::hit(3, 9000, 0.9)->left, ...Sounds::hit(4, 9000, 0.9)->left];
        self::assertEqualsWithDelta(18000, Snap::toHit(new MemorySource(new StereoBlock($drums, $drums), 44100), 16500), 90);
        self::assertSame(500, Snap::toHit(new MemorySource(StereoBlock::silence(1000), 44100), 500));
    }

    private static function noise(int $frames = self::FRAMES): MemorySource
    {
        $noise = new Noise(5);

        return new MemorySource(new StereoBlock(
            array_map(static fn (float $x): float => 0.4 * $x, $noise->block($frames)),
            array_map(static fn (float $x): float => 0.3 * $x, $noise->block($frames)),
        ), 44100);
    }

    public function testWhatTakesLongTellsHowFarItIs(): void
    {
        $folder = Sounds::folder();
        $tone = Sounds::sine(220, 30 * 44100);
        $hash = Sounds::put($folder, new StereoBlock($tone, $tone));
        $kept = Sounds::folder();
        $sound = $hash.'|'.json_encode([['kind' => 'pitch', 'cents' => 300, 'material' => 'tones']]);
        $library = new SampleLibrary($folder, $kept);
        self::assertNull($library->progress($sound));
        $code = 'require $argv[1]; (new Pestle\Core\Render\SampleLibrary($argv[2], $argv[3]))->open($argv[4]);';
        $working = proc_open([\PHP_BINARY, '-r', $code, \dirname(__DIR__, 3).'/vendor/autoload.php', $folder, $kept, $sound], [], $pipes) ?: self::fail('No process.');
        $told = [];
        while (proc_get_status($working)['running']) {
            $told[] = $library->progress($sound);
            usleep(20_000);
        }
        proc_close($working);
        $told = array_values(array_filter($told, static fn (?float $p): bool => null !== $p));
        self::assertGreaterThan(1, \count(array_unique($told)));
        $ordered = $told;
        sort($ordered);
        self::assertSame($ordered, $told);
        self::assertTrue($told[0] >= 0.0 && end($told) <= 1.0);
        self::assertNull($library->progress($sound));
        self::assertSame([], glob($kept.'/*.pieces'));
        self::assertSame(30 * 44100, $library->open($sound)->frames());
    }

    /** What takes long is refused to those that don't wait, has something as long to be heard meanwhile, and ends when nobody asks any more. */
    public function testLongEditsAreMadeBesideAndGivenUp(): void
    {
        [$folder, $kept] = [Sounds::folder(), Sounds::folder()];
        $tone = Sounds::sine(220, 12 * 44100);
        $hash = Sounds::put($folder, new StereoBlock($tone, $tone));
        $sound = $hash.'|'.json_encode([['kind' => 'stretch', 'percent' => 120, 'material' => 'tones'], ['kind' => 'gain', 'db' => -6], ['kind' => 'pitch', 'cents' => 300, 'material' => 'tones']]);
        $asking = new SampleLibrary($folder, $kept, waits: false);
        try {
            $asking->open($sound);
            self::fail('It waited.');
        } catch (NotMadeYet $e) {
            self::assertSame([$sound, null], [$e->sound, $e->progress]);
        }
        $lighter = $asking->open($asking->lighter($sound));
        self::assertSame((int) round(12 * 44100 * 1.2), $lighter->frames());
        self::assertLessThan(-60.0, Sounds::unwanted($lighter->read(40000, 20000)->left, 220 / 1.2, 44100));
        $asked = glob($kept.'/*.asked') ?: [];
        self::assertCount(1, $asked);
        touch($asked[0], time() - 100);
        try {
            (new SampleLibrary($folder, $kept, givesUp: true))->open($sound);
            self::fail('It went on.');
        } catch (NotWantedAnyMore) {
            self::assertSame([], glob($kept.'/*.{wav,part,pieces}', \GLOB_BRACE));
        }
        self::assertSame($lighter->frames(), (new SampleLibrary($folder, $kept))->open($sound)->frames());
        self::assertSame($lighter->frames(), $asking->open($sound)->frames());
    }

    /** Of long edits the place that is listened to is made first, and heard before the rest is there. */
    public function testLongEditsAreHeardWhereTheyAreListenedTo(): void
    {
        [$folder, $kept] = [Sounds::folder(), Sounds::folder()];
        $drums = array_merge(...array_map(static fn (int $i): array => Sounds::hit($i, 22050, 0.8)->left, range(1, 60)));
        $hash = Sounds::put($folder, new StereoBlock($drums, $drums));
        $sound = $hash.'|'.json_encode([['kind' => 'stretch', 'percent' => 150, 'material' => 'hits'], ['kind' => 'gain', 'db' => -6]]);
        $asking = new SampleLibrary($folder, $kept, waits: false);
        $place = 30 * 44100;
        self::assertFalse($asking->isReady($sound, $place));
        $code = 'require $argv[1]; (new Pestle\Core\Render\SampleLibrary($argv[2], $argv[3]))->open($argv[4]);';
        $working = proc_open([\PHP_BINARY, '-r', $code, \dirname(__DIR__, 3).'/vendor/autoload.php', $folder, $kept, $sound], [], $pipes) ?: self::fail('No process.');
        do {
            usleep(10_000);
            $name = $asking->lighter($sound);
        } while (!str_contains($name, '~') && proc_get_status($working)['running']);
        $pieces = explode('~', $name)[1] ?? '';
        self::assertSame(intdiv($place, WorkedOut::PIECE), strpos($pieces, '1'), $pieces);
        $early = $asking->open($name);
        [$there, $elsewhere] = [$early->read($place, 4096)->left, $early->read(44100, 4096)->left];
        self::assertSame($there, $asking->openFor($sound, $place, 4096)->read($place, 4096)->left);
        try {
            $asking->openFor($sound, 44100, 4096);
            self::fail('It is not there yet.');
        } catch (NotMadeYet $e) {
            self::assertGreaterThan(0.0, $e->progress);
        }
        while (proc_get_status($working)['running']) {
            usleep(10_000);
        }
        $made = $asking->open($sound);
        self::assertSame($made->read($place, 4096)->left, $there);
        self::assertNotSame($made->read(44100, 4096)->left, $elsewhere);
        self::assertSame($made->frames(), $early->frames());
        // As it would be made from the start, but for the rounding of what is kept.
        $plain = (new SampleLibrary($folder))->open($sound);
        self::assertEqualsWithDelta($plain->read($place, 4096)->left, $there, 1e-6);
        // From one piece into what stands for the next it goes without a click.
        $edge = (1 + intdiv($place, WorkedOut::PIECE)) * WorkedOut::PIECE;
        $over = $early->read($edge - 600, 1200)->left;
        self::assertLessThan(0.5, max(array_map(static fn (int $i): float => abs($over[$i + 1] - $over[$i]), range(0, 1198))));
        self::assertSame([], glob($kept.'/*.{part,pieces,asked}', \GLOB_BRACE));
    }
}
