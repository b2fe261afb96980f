<?php

namespace Pestle\Tests\Core\Render;

use Pestle\Core\Beat\Audition;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Beat\Strikes;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Route;
use Pestle\Core\Kit\RoutedBy;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\Renderer;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;
use Pestle\Core\Render\Voice;
use Pestle\Core\Render\VoicePlanner;
use Pestle\Core\Render\VoiceRenderer;
use Pestle\Core\Synth\Recipes;
use Pestle\Core\Synth\Shelf;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Several sounds under the same notes: each over its keys and strengths, kept, parted and taken away; and what a note moves in them. */
final class StackTest extends TestCase
{
    private static PadSounds $sounds;

    public static function setUpBeforeClass(): void
    {
        self::$sounds = new PadSounds(new SampleLibrary(Sounds::folder()), Beat::SAMPLE_RATE);
    }

    public function testEachAnswersItsKeysAndStrengthsAndGoesOverAtEqualPower(): void
    {
        $beat = self::stacked();
        $beat = RandomBeats::changed($beat, [['type' => 'set', 'under' => 'part/part-2', 'high' => 59, 'blend/fadeKeys' => 8, 'stack/0/low' => 60, 'stack/0/blend/fadeKeys' => 8, 'stack/0/blend/delayMs' => 25, 'stack/1/blend/weakest' => 100]]);
        foreach ([40 => [1, 0], 56 => [0.9952, 0.098], 59 => [0.773, 0.6344], 60 => [0.6344, 0.773], 70 => [0, 1]] as $pitch => [$low, $high]) {
            $gains = array_values(array_map(static fn (Voice $v): float => $v->gainLeft / (90 / 127) ** 1.0, self::voices($beat, $pitch, 90)));
            $wanted = array_values(array_filter([$low, $high]));
            self::assertCount(\count($wanted), $gains, "$pitch");
            self::assertEqualsWithDelta(1.0, array_sum(array_map(static fn (float $g): float => $g * $g, $gains)), 1e-9, "$pitch: as strong as one");
            self::assertEqualsWithDelta($wanted, $gains, 1e-4, "$pitch");
        }
        self::assertCount(3, self::voices($beat, 60, 100), 'the third answers what is hard');
        self::assertSame([1103, 0], [self::voices($beat, 70, 90)[0]->start, self::voices($beat, 40, 90)[0]->start], 'one begins after 25 ms');
        self::assertContains(99, (new Strikes($beat))->onKeys($beat->part('part-2')), 'its edge is told to who plays it live');
        self::assertEquals($beat, BeatCodec::decode(BeatCodec::encode($beat)));
    }

    /** One alone sounds as it does without the others; kept alone it is the same; on its own part both together are what they were. */
    public function testOneIsHeardAloneKeptAloneOrPartedFromTheOthers(): void
    {
        $beat = self::stacked();
        $heard = self::print($beat);
        $alone = self::print(Audition::of($beat, 'alone/part-2/1'));
        self::assertNotSame($heard, $alone);
        self::assertSame($alone, self::print(self::unstacked($beat, 1, 'alone')));
        self::assertSame(['Night tram'], array_map(static fn (Keys $k): string => $k->name, array_values(array_filter([self::keys(self::unstacked($beat, 2, 'away'))->at(1)]))));
        self::assertSame('', self::keys(self::unstacked(self::unstacked($beat, 2, 'away'), 0, 'away'))->name, 'one is no stack');
        $parted = RandomBeats::changed($beat, [['type' => 'unstack-sound', 'part' => 'part-2', 'at' => 1, 'how' => 'own', 'id' => 'part-9']]);
        self::assertSame('Night tram', $parted->part('part-9')->name);
        self::assertCount(2, self::keys($parted)->all());
        // Two channels are rounded to the grid apart.
        self::assertLessThan(4 / 2 ** 23, max(0.0, ...array_map(static fn (float $a, float $b): float => abs($a - $b), self::song($beat), self::song($parted))));
        // Exchanged in its place, its neighbours stay.
        $other = RandomBeats::changed($beat, [['type' => 'set-sound', 'part' => 'part-2', 'at' => 1, 'shelf' => 'boiler']]);
        self::assertSame(['Line', 'Boiler', 'Spoon drawer'], array_map(static fn (Keys $k): string => $k->name, self::keys($other)->all()));
        self::assertSame(self::print($other), self::print(Audition::of($beat, 'sound/part-2/1/shelf/boiler')));
        self::assertSame(self::print(RandomBeats::changed($beat, [['type' => 'stack-sound', 'part' => 'part-2', 'shelf' => 'neon']])), self::print(Audition::of($beat, 'stacked/part-2/shelf/neon')));
    }

    /** @param array<string, mixed> $change */
    #[DataProvider('refused')]
    public function testWhatCannotBeStackedIsRefused(array $change, string $why): void
    {
        $beat = self::stacked();
        $this->expectException(InvalidChange::class);
        $this->expectExceptionMessage($why);
        RandomBeats::changed($beat, 'full' === $change['type'] ? array_fill(0, 6, ['type' => 'stack-sound', 'part' => 'part-2', 'shelf' => 'neon']) : [$change]);
    }

    /** @return iterable<string, array{array<string, mixed>, string}> */
    public static function refused(): iterable
    {
        yield 'more than eight' => [['type' => 'full'], 'At most 8 sounds are stacked.'];
        yield 'on a kit' => [['type' => 'stack-sound', 'part' => 'part-1', 'shelf' => 'neon'], 'is a kit: its pads take several sounds each.'];
        yield 'of a kit' => [['type' => 'stack-sound', 'part' => 'part-2', 'of' => 'part-1'], 'is a kit: only instruments are stacked.'];
        yield 'one that is not there' => [['type' => 'unstack-sound', 'part' => 'part-2', 'at' => 5, 'how' => 'away'], 'has no such sound in a stack.'];
        yield 'in no known way' => [['type' => 'unstack-sound', 'part' => 'part-2', 'at' => 1, 'how' => 'up'], 'how must be away, alone or own.'];
        yield 'another sound for none' => [['type' => 'set-sound', 'part' => 'part-2', 'at' => 4, 'shelf' => 'neon'], 'at must be one of the sounds that are stacked: Line has 3.'];
        yield 'a recipe that is none' => [['type' => 'set-sound', 'part' => 'part-2', 'recipe' => 'soup'], 'recipe must be one of: stab, sub, growing, behind.'];
        yield 'seventeen routes' => [['type' => 'set-sound', 'part' => 'part-2', 'routes' => array_fill(0, 17, ['by' => 'key', 'to' => 'levelDb', 'amount' => 1])], 'routes'];
    }

    /** A note that is held over a section in which the part is silent ends where the next one begins. */
    public function testAMadeNoteThatIsHeldForLongIsSilencedHoweverLate(): void
    {
        $beat = RandomBeats::changed(Beat::empty('Held'), [
            ['type' => 'add-part', 'id' => 'part-2', 'name' => 'Line', 'shelf' => 'night-tram', 'section' => 's1'],
            ['type' => 'set', 'under' => 'part/part-2', 'single' => 1],
            ['type' => 'add-section', 'id' => 's2', 'name' => 'Rest'], ['type' => 'set-section', 'section' => 's2', 'bars' => 1],
            ['type' => 'add-section', 'id' => 's3', 'name' => 'Again', 'copyOf' => 's1'], ['type' => 'set-song', 'sections' => ['s1', 's2', 's3']],
        ]);
        $pattern = $beat->section('s1')->patterns['part-2'];
        $beat = RandomBeats::changed($beat, [['type' => 'set-cell', 'section' => 's3', 'part' => 'part-2', 'pattern' => $pattern], ['type' => 'set-cell', 'section' => 's2', 'part' => 'part-2', 'pattern' => '']]);
        $long = $beat->withPattern($beat->pattern($pattern)->withNotes([new Note(0, 45, 100, 5 * 3840)]));
        $short = $beat->withPattern($beat->pattern($pattern)->withNotes([new Note(0, 45, 100, 400)]));
        [$long, $short] = [self::song($long), self::song($short)];
        $third = $beat->tempo->frames(3.0 * 3840, Beat::SAMPLE_RATE);
        self::assertNotSame(\array_slice($short, 0, $third), \array_slice($long, 0, $third));
        self::assertGreaterThan(0.01, self::level(\array_slice($short, $third, 8000)));
        self::assertSame(\array_slice($short, $third + Voice::CHOKE_FADE, 8000), \array_slice($long, $third + Voice::CHOKE_FADE, 8000));
    }

    /** The same note is the same sound; another strength, key, step or throw of the dice is another one, by as much as is said. */
    public function testANoteMovesWhatIsRouted(): void
    {
        $beat = RandomBeats::changed(self::stacked(), [['type' => 'set-sound', 'part' => 'part-2', 'routes' => [['by' => 'strength', 'to' => 'waves/0/detune', 'amount' => 0.5], ['by' => 'key', 'to' => 'levelDb', 'amount' => -0.25], ['by' => 'step', 'to' => 'filter/resonance', 'amount' => 1.0], ['by' => 'chance', 'to' => 'amp/attackMs', 'amount' => 0.2], ['by' => 'key', 'to' => 'waves/5/detune', 'amount' => 1.0]]]]);
        $routed = self::keys($beat);
        $at = static fn (int $pitch, int $velocity, float $chance, float $step): Keys => Route::at($routed, $pitch, $velocity, $chance, $step);
        self::assertEquals($at(60, 1, 0.5, 0.0)->with(['routes' => []]), self::keys(self::stacked())->with(['routes' => []]), 'nothing moves nothing');
        self::assertSame(14.0 + 50.0, $at(60, 127, 0.5, 0.0)->waves[0]->detune);
        self::assertSame(14.0 + 25.0, $at(60, 64, 0.5, 0.0)->waves[0]->detune);
        self::assertSame(-18.0, $at(96, 1, 0.5, 0.0)->levelDb);
        self::assertSame(0.75, $at(60, 1, 0.5, 0.75)->treatment->filter->resonance);
        self::assertNotSame($at(60, 1, 0.1, 0.0)->treatment->amp->attackMs, $at(60, 1, 0.9, 0.0)->treatment->amp->attackMs);
        $settled = $routed->with(['routes' => array_map(static fn (string $to): Route => new Route(RoutedBy::Strength, $to, 1.0), ['low', 'high', 'voices', 'stack/0/levelDb', 'nothing/at/all', 'single'])]);
        self::assertEquals($settled, Route::at($settled, 60, 127, 1.0, 1.0), 'what decides whether a note sounds stays');
        self::assertNotSame(self::print($beat), self::print(self::stacked()));
        self::assertSame(self::print($beat), self::print(BeatCodec::decode(BeatCodec::encode($beat))));
    }

    /** Each recipe does what it is called after, to what is made and to what is recorded. */
    public function testRecipesDoAsTheySay(): void
    {
        foreach (['dawn-market', 'spoon-drawer', 'boiler'] as $id) {
            $keys = Shelf::find($id)->keys ?? self::fail($id);
            $stab = self::sound(Recipes::of($keys, 'stab'));
            self::assertLessThan(0.1 * self::level(\array_slice($stab, 500, 6000)), self::level(\array_slice($stab, 30_000, 6000)), "$id: a stab is soon over");
            $sub = self::sound(Recipes::of($keys, 'sub'));
            self::assertLessThan(1.3 * 2.0 * \M_PI * 220.0 / 44_100.0, self::edges($sub), "$id: a sub is little more than its lowest tone");
            $growing = self::sound(Recipes::of($keys, 'growing'));
            self::assertLessThan(0.3 * self::level(\array_slice($growing, 55_000, 6000)), self::level(\array_slice($growing, 2000, 6000)), "$id: it grows");
            $behind = self::sound(Recipes::of($keys, 'behind'));
            self::assertLessThan(self::level(\array_slice($behind, 36_000, 4000)), self::level(\array_slice($behind, 0, 4000)), "$id: a bed comes slowly");
        }
    }

    private static function stacked(): Beat
    {
        $beat = RandomBeats::changed(Beat::empty('Stack'), [
            ['type' => 'add-part', 'id' => 'part-2', 'name' => 'Line', 'shelf' => 'night-tram', 'section' => 's1'],
            ['type' => 'set-sound', 'part' => 'part-2', 'sound' => json_decode(BeatCodec::json(Shelf::plain()->with(['levelDb' => 0.0])->toArray()), true)],
            ['type' => 'stack-sound', 'part' => 'part-2', 'shelf' => 'night-tram'],
            ['type' => 'stack-sound', 'part' => 'part-2', 'shelf' => 'spoon-drawer'],
            ['type' => 'set', 'under' => 'part/part-2', 'stack/0/levelDb' => 0, 'stack/1/levelDb' => 0],
        ]);

        return $beat->withPattern($beat->pattern($beat->section('s1')->patterns['part-2'])->withNotes([new Note(0, 52, 100, 900), new Note(960, 67, 60, 400), new Note(2000, 67, 127, 300)]));
    }

    private static function keys(Beat $beat): Keys
    {
        return $beat->part('part-2')->keys ?? self::fail('It is an instrument.');
    }

    private static function unstacked(Beat $beat, int $at, string $how): Beat
    {
        return RandomBeats::changed($beat, [['type' => 'unstack-sound', 'part' => 'part-2', 'at' => $at, 'how' => $how]]);
    }

    /** @return list<Voice> */
    private static function voices(Beat $beat, int $pitch, int $velocity): array
    {
        return (new VoicePlanner($beat, self::$sounds))->note(self::keys($beat), $pitch, $velocity, 0, 0.5);
    }

    /** @return list<float> the left side of the song */
    private static function song(Beat $beat): array
    {
        $left = [];
        foreach ((new Renderer(self::$sounds, SegmentCache::none()))->stream(Plan::song($beat, Passage::song($beat), self::$sounds)) as $moment) {
            array_push($left, ...$moment->mix->block()->left);
        }

        return $left;
    }

    private static function print(Beat $beat): string
    {
        $hash = hash_init('sha256');
        foreach ((new Renderer(self::$sounds, SegmentCache::none()))->stream(Plan::loop($beat, 's1', self::$sounds)) as $moment) {
            hash_update($hash, $moment->mix->packed());
        }

        return hash_final($hash);
    }

    /** @return list<float> two seconds of a note that is held for one and a half */
    private static function sound(Keys $keys): array
    {
        $voices = (new VoicePlanner(Beat::empty('One'), self::$sounds))->note($keys, 57, 100, 0, 1.5);
        $out = [];
        $renderer = new VoiceRenderer(self::$sounds);
        for ($at = 0; $at < 88_200; $at += 4096) {
            $block = $renderer->render(array_map(static fn (Voice $v): array => [$v, $v->start - $at], $voices), 4096);
            array_push($out, ...$block->left ?? array_fill(0, 4096, 0.0));
        }

        return $out;
    }

    /** @param list<float> $sound */
    private static function level(array $sound): float
    {
        return sqrt(array_sum(array_map(static fn (float $x): float => $x * $x, $sound)) / max(1, \count($sound))) + 1e-9;
    }

    /**
     * How steep it is against how loud: what is high counts for more.
     *
     * @param list<float> $sound
     */
    private static function edges(array $sound): float
    {
        return self::level(array_map(static fn (float $a, float $b): float => $b - $a, \array_slice($sound, 0, -1), \array_slice($sound, 1))) / self::level($sound);
    }
}
