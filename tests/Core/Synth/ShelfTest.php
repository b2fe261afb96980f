<?php

namespace Pestle\Tests\Core\Synth;

use Pestle\Core\Analysis\Loudness;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\KitSheet;
use Pestle\Core\Exchange\KitArchive;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Wave;
use Pestle\Core\Render\NotePicture;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\Voice;
use Pestle\Core\Render\VoicePlanner;
use Pestle\Core\Render\VoiceRenderer;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\Window;
use Pestle\Core\Synth\MadeNote;
use Pestle\Core\Synth\MadeSounds;
use Pestle\Core\Synth\Nearby;
use Pestle\Core\Synth\Shelf;
use Pestle\Core\Synth\Shelf\Measured;
use Pestle\Core\Synth\ShelfSound;
use Pestle\Tests\Core\Render\RandomBeats;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

/** The shelf is held to numbers; what lies nearby goes the way it says; a part's sound is exchanged and its notes stay. */
final class ShelfTest extends TestCase
{
    private const MIDDLE = ['bass' => 40, 'keys' => 60, 'pluck' => 60, 'pad' => 60, 'stab' => 60, 'lead' => 72, 'noise' => 60];
    private static PadSounds $sounds;

    public static function setUpBeforeClass(): void
    {
        self::$sounds = new PadSounds(new SampleLibrary(Sounds::folder()), Beat::SAMPLE_RATE);
    }

    /** The middle note is as loud as those of others, or as loud as it may be where it is short; nothing comes near full scale, lies off the middle or clicks. */
    public function testEverySoundIsHealthy(): void
    {
        $names = [];
        foreach (Shelf::all() as $id => $sound) {
            $middle = self::MIDDLE[$sound->use];
            $hard = self::note($sound->keys, $middle, 127);
            $peak = max($hard->peak(), self::note($sound->keys, $middle - 12, 127)->peak(), self::note($sound->keys, $middle + 12, 127)->peak());
            self::assertLessThan(-3.0, 20.0 * log10($peak), "$id: no note over -3 dBFS");
            $block = self::note($sound->keys, $middle, 90);
            $loudness = Loudness::of(new MemorySource($block, 44100))->integratedLufs;
            self::assertTrue(abs($loudness + 18.0) <= 1.5 || ($loudness < -18.0 && 20.0 * log10($peak) > -9.5), \sprintf('%s: %.1f LUFS, %.1f dBFS at most', $id, $loudness, 20.0 * log10($peak)));
            [$hz, $seconds] = Measured::SOUNDS[$id];
            self::assertEqualsWithDelta($hz, self::centre($block), 0.02 * $hz + 1.0, "$id: how bright");
            self::assertEqualsWithDelta($seconds, self::lasts($block), 0.026, "$id: how long");
            self::assertLessThan(-60.0, 20.0 * log10(abs(self::mean($block->left)) + 1e-9), "$id: no direct current");
            self::assertLessThan(-80.0, 20.0 * log10(self::note($sound->keys, $middle, 90, 0.3, 30.0)->slice(29 * 44100, 4000)->peak() + 1e-9), "$id: nothing rings for ever");
            $strong = 20.0 * log10(self::rms($hard) / self::rms(self::note($sound->keys, $middle, 40)));
            self::assertTrue($strong >= 6.0 && $strong <= 15.0, \sprintf('%s: strength makes %.1f dB', $id, $strong));
            $names[] = $sound->name;
        }
        self::assertSame(\count($names), \count(array_unique($names)));
        self::assertGreaterThanOrEqual(80, \count($names));
        self::assertSame(array_keys(Shelf::USES), array_values(array_unique(array_map(static fn (ShelfSound $s): string => $s->use, array_values(Shelf::all())))));
    }

    /** Basses have their lows, pads their width and patience, plucks and stabs are soon over. */
    public function testEveryKindIsWhatItIsFor(): void
    {
        foreach (Shelf::all() as $id => $sound) {
            $block = self::note($sound->keys, self::MIDDLE[$sound->use], 100);
            if ('bass' === $sound->use) {
                $hz = 440.0 * 2.0 ** ((self::MIDDLE['bass'] - 69) / 12.0);
                $low = array_map(static fn (float $h): float => self::near($block, $h * $hz), [0.5, 1.0, 2.0]);
                self::assertGreaterThan(0.5 * max(array_map(static fn (int $h): float => self::near($block, $h * $hz), range(1, 12))), max($low), "$id has its lows");
            } elseif ('pad' === $sound->use) {
                self::assertLessThan(0.97, self::correlation($block), "$id is wide");
                self::assertLessThan(0.5 * self::rms($block->slice(30_000, 8000)), self::rms($block->slice(0, 1500)), "$id comes slowly");
            } elseif (\in_array($sound->use, ['pluck', 'stab'], true)) {
                self::assertLessThan(0.1 * self::rms($block->slice(0, 6000)), self::rms($block->slice(42_000, 2000)), "$id is soon over");
            }
        }
    }

    /** Each of the eight is measured to go its way, and no two of them are the same. */
    public function testNearbyLiesWhereItSays(): void
    {
        foreach (['boiler', 'spoon-drawer', 'dawn-market', 'neon'] as $id) {
            $keys = Shelf::find($id)->keys ?? self::fail($id);
            $own = self::note($keys, 55, 100);
            $near = array_map(static fn (string $way): StereoBlock => self::note(Nearby::going($keys, $way), 55, 100), array_combine(array_keys(Nearby::WAYS), array_keys(Nearby::WAYS)));
            self::assertLessThan(0.95 * self::centre($own), self::centre($near['duller']), "$id duller");
            self::assertLessThan(self::centre($own), self::centre($near['rounder']), "$id rounder");
            self::assertGreaterThan(1.03 * self::centre($own), self::centre($near['bite']), "$id bites");
            self::assertGreaterThan(self::centre($own), self::centre($near['dirtier']), "$id dirtier");
            self::assertGreaterThan(1.1 * self::rms($own->slice(46_000, 12_000)), self::rms($near['longer']->slice(46_000, 12_000)), "$id longer");
            self::assertLessThan(0.5 * self::rms($own->slice(36_000, 8000)), self::rms($near['plucked']->slice(36_000, 8000)), "$id plucked");
            self::assertSame(8, \count(array_unique(array_map(static fn (StereoBlock $b): string => md5(pack('e*', ...$b->left, ...$b->right)), $near))), $id);
            if ('neon' !== $id) {
                self::assertLessThan(self::correlation($own), self::correlation($near['wider']), "$id wider");
            }
        }
        [$from, $to] = [Shelf::find('cellar-jar')->keys ?? self::fail(), Shelf::find('tin-flute')->keys ?? self::fail()];
        self::assertSame(self::note($from, 50, 90)->left, self::note(Nearby::between($from, $to, 0.0), 50, 90)->left);
        $there = Nearby::between($from, $to, 1.0);
        self::assertEqualsWithDelta(self::rms(self::note($to, 60, 90)), self::rms(self::note($there->with(['levelDb' => $to->levelDb, 'strength' => $to->strength]), 60, 90)), 0.02);
        self::assertSame(2, \count(array_unique(array_map(static fn (float $s): string => md5(serialize(Nearby::between($from, $to, $s)->treatment->filter)), [0.3, 0.7]))));
    }

    public function testASoundIsExchangedAndItsNotesStay(): void
    {
        $beat = RandomBeats::changed(Beat::empty('Made'), [
            ['type' => 'add-part', 'id' => 'part-2', 'name' => 'Bass', 'shelf' => 'drain', 'section' => 's1'],
            ['type' => 'edit-notes', 'pattern' => 'p2', 'notes' => [[0, 40, 100, 480], [960, 43, 90, 480]]],
        ]);
        self::assertEquals(Shelf::find('drain')->keys->waves ?? [], $beat->part('part-2')->keys->waves ?? []);
        self::assertEquals($beat, BeatCodec::decode(BeatCodec::encode($beat)));
        $other = RandomBeats::changed($beat, [['type' => 'set-sound', 'part' => 'part-2', 'shelf' => 'frost']]);
        self::assertSame($beat->pattern('p2')->notes, $other->pattern('p2')->notes);
        self::assertSame($beat->part('part-2')->keys?->channel, $other->part('part-2')->keys?->channel);
        self::assertSame(0.5, RandomBeats::changed($other, [['type' => 'set', 'part/part-2/waves/1/strength' => 0.5]])->part('part-2')->keys->waves[1]->strength ?? null);
        $drawn = RandomBeats::changed($beat, [['type' => 'set-sound', 'part' => 'part-2', 'waves' => [['kind' => 'partials', 'partials' => [1, 0, 0.5]]]]]);
        self::assertSame([1.0, 0.0, 0.5], $drawn->part('part-2')->keys->waves[0]->partials ?? []);
        self::assertEquals($drawn, BeatCodec::decode(BeatCodec::encode($drawn)));
        foreach ([
            [['part' => 'part-2', 'shelf' => 'nothing'], 'must be a sound of the shelf.'], [['part' => 'part-2', 'near' => 'up'], 'near must be one of: rounder'], [['part' => 'part-1', 'shelf' => 'drain'], 'is a kit: its pads hold its sounds.'],
            [['part' => 'part-2', 'waves' => []], 'An instrument is made of a recorded note or a wave at least.'], [['part' => 'part-2', 'waves' => array_fill(0, 7, ['kind' => 'saw'])], 'waves must be a list of at most 6 entries.'],
            [['part' => 'part-2', 'waves' => [['kind' => 'square']]], 'kind must be one of'], [['part' => 'part-2', 'waves' => [['kind' => 'partials', 'partials' => [2]]]], 'partials must be a number from -1 to 1'], [['part' => 'part-2', 'sound' => ['channel' => 'none', 'zones' => []]], 'zones must hold at least one recorded note'],
        ] as [$fields, $words]) {
            try {
                RandomBeats::changed($beat, [['type' => 'set-sound', ...$fields]]);
                self::fail($words);
            } catch (InvalidChange $e) {
                self::assertStringContainsString($words, $e->getMessage());
            }
        }
    }

    /** On the kit shelf it is kept as it is made; as SFZ it is carried as recorded notes, which sound as it does. */
    public function testItIsKeptAndCarriedOut(): void
    {
        $beat = RandomBeats::changed(Beat::empty('Kept'), [['type' => 'add-part', 'id' => 'part-2', 'name' => 'Night line', 'shelf' => 'night-tram', 'section' => 's1']]);
        $sheet = KitSheet::of($beat, 'part-2');
        self::assertEquals($sheet, KitSheet::read(new Fields((array) json_decode(BeatCodec::json($sheet->toArray()), true))));
        self::assertEquals($sheet, $sheet->without(static fn (): bool => false));
        $folder = Sounds::folder();
        self::assertContains('glide', KitArchive::write($sheet, $folder.'/out.zip', new SampleLibrary($folder), []));
        $zip = new \ZipArchive();
        self::assertTrue(true === $zip->open($folder.'/out.zip'));
        self::assertSame(20, $zip->numFiles - 1);
        self::assertStringContainsString('loop_mode=loop_sustain', (string) $zip->getFromName('Night line.sfz'));
        $zip->extractTo($folder);
        $file = SoundFile::open($folder.'/samples/Night line 44.wav');
        $made = (new MadeSounds())->read(new MadeNote($sheet->keys->waves ?? [], 44, 127), 0, 88_200);
        self::assertEqualsWithDelta($made->left, $file->read(0, 88_200)->left, 1e-6);
        // Going round it goes on without a step.
        $end = $file->read($file->frames() - 40, 40)->left;
        $on = $file->read(2 * 44_100, 40)->left;
        $steps = array_map(static fn (float $a, float $b): float => abs($b - $a), [...$end, ...\array_slice($on, 0, -1)], [...\array_slice($end, 1), ...$on]);
        self::assertLessThan(1.5 * max(array_map(static fn (int $i): float => abs($made->left[$i + 1] - $made->left[$i]), range(40_000, 80_000))), max([0.0, ...$steps]));
        self::assertSame([], glob($folder.'/*.wav') ?: [], 'nothing is left beside it');
    }

    /** The picture of a note shows its pitch from where it is struck to where it is let go. */
    public function testAPictureShowsANote(): void
    {
        $keys = (new Keys([], 'none', waves: [new Wave(\Pestle\Core\Kit\WaveKind::Sine)]));
        $picture = NotePicture::of(Beat::empty('Seen'), $keys, 69, 100, self::$sounds);
        $column = static fn (int $c): array => \array_slice($picture->bands, $c * NotePicture::BANDS, NotePicture::BANDS);
        $band = (int) floor(NotePicture::BANDS * log(440.0 / 40.0) / log(400.0));
        self::assertSame($band, array_search(255, $column(20), true));
        self::assertSame([255, 0], [$picture->level[20], $picture->level[NotePicture::COLUMNS - 2]]);
        self::assertCount(NotePicture::COLUMNS * NotePicture::BANDS, $picture->bands);
    }

    private static function note(Keys $keys, int $pitch, int $velocity, float $held = 1.0, float $seconds = 1.6): StereoBlock
    {
        $voices = (new VoicePlanner(Beat::empty('Shelf'), self::$sounds))->note($keys, $pitch, $velocity, 0, $held);
        $renderer = new VoiceRenderer(self::$sounds);
        $left = $right = [];
        // Of what is long only the end is looked at.
        for ($at = $seconds > 10.0 ? 4096 * (int) (($seconds - 1.2) * 44100 / 4096) : 0, $first = $at, $end = (int) ($seconds * 44100); $at < $end; $at += 4096) {
            $block = $renderer->render(array_map(static fn (Voice $v): array => [$v, $v->start - $at], $voices), 4096) ?? StereoBlock::silence(4096);
            array_push($left, ...$block->left);
            array_push($right, ...$block->right);
        }

        return new StereoBlock([...array_fill(0, $first, 0.0), ...$left], [...array_fill(0, $first, 0.0), ...$right]);
    }

    private static function rms(StereoBlock $block): float
    {
        return sqrt(array_sum(array_map(static fn (float $l, float $r): float => $l * $l + $r * $r, $block->left, $block->right)) / max(1, 2 * $block->frames())) + 1e-9;
    }

    /**
     * Of the middle of a sound, whose ends count less.
     *
     * @param list<float> $sound
     */
    private static function mean(array $sound): float
    {
        $n = \count($sound);

        return array_sum(array_map(static fn (float $x, int $i): float => $x * (1.0 - cos(2.0 * \M_PI * $i / $n)), $sound, array_keys($sound))) / $n;
    }

    /** Hz around which what it is heard by lies. */
    private static function centre(StereoBlock $block): float
    {
        $sum = $weight = 0.0;
        $part = array_map(static fn (float $x, float $w): float => $x * $w, \array_slice($block->left, 0, 8192), Window::hann(8192));
        foreach ((new Fft(8192))->magnitudes($part) as $k => $m) {
            $sum += $k * $m * 44100 / 8192;
            $weight += $m;
        }

        return $sum / $weight;
    }

    /** Seconds until it is 30 dB softer than at its loudest. */
    private static function lasts(StereoBlock $block): float
    {
        $levels = array_map(static fn (int $i): float => self::rms($block->slice(1102 * $i, 1102)), range(0, intdiv($block->frames(), 1102) - 1));
        $loud = array_keys(array_filter($levels, static fn (float $level): bool => $level > 10.0 ** -1.5 * max($levels)));

        return 0.025 * (1 + max([0, ...$loud]));
    }

    private static function near(StereoBlock $block, float $hz): float
    {
        $at = $hz * 16_384 / 44100;

        return max([0.0, ...\array_slice((new Fft(16_384))->magnitudes(\array_slice($block->left, 1000, 16_384)), (int) max(0.0, $at - 2), 5)]);
    }

    private static function correlation(StereoBlock $block): float
    {
        $both = $left = $right = 1e-12;
        foreach (\array_slice($block->left, 20_000, 20_000, true) as $i => $l) {
            $both += $l * $block->right[$i];
            $left += $l * $l;
            $right += $block->right[$i] ** 2;
        }

        return $both / sqrt($left * $right);
    }
}
