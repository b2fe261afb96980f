<?php

namespace Pestle\Tests\Core\Render;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\Voice;
use Pestle\Core\Render\VoicePlanner;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

/** How pads behave: how many of their voices sound, what they silence, what sounds along, and which of their sounds answers. At 60 BPM a quarter is 44,100 frames. */
final class BehaviourTest extends TestCase
{
    private const QUARTER = 44100;

    private string $folder;

    protected function setUp(): void
    {
        $this->folder = Sounds::folder();
    }

    public function testAPadHasAsManyVoicesAsItIsGiven(): void
    {
        $hits = array_map(static fn (int $k): array => [240 * $k, 'a0', 100], range(0, 5));
        // Each strike is ended by the next, by the second next, or lasts its three seconds.
        foreach ([1 => 11025 + Voice::CHOKE_FADE, 2 => 22050 + Voice::CHOKE_FADE, 4 => 44100 + Voice::CHOKE_FADE, 16 => 3 * self::QUARTER] as $voices => $length) {
            $planned = $this->planned([['type' => 'set', 'under' => 'kit/a0', 'voices' => $voices]], $hits)['a0'];
            self::assertSame($length, $planned[0]->length, "$voices voices");
            self::assertSame(3 * self::QUARTER, $planned[5]->length);
        }
    }

    /** Round and round: with more voices than strikes, a strike is ended by one of a later pass. */
    public function testVoicesAreCountedOverTheEndOfALoop(): void
    {
        $beat = $this->beat([['type' => 'set', 'under' => 'kit/a0', 'voices' => 3], ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 1]], [[0, 'a0', 100], [960, 'a0', 100]]);
        $passage = Passage::of($beat, 'p1', true);
        $planned = Voices::ofAPass((new VoicePlanner($beat, $this->sounds()))->loop($passage, 4 * self::QUARTER, Timeline::song($beat), []), 4 * self::QUARTER)['a0'];
        // Four quarters a pass: the third strike after the first is the second of the next pass, five quarters later; the sound ends before.
        self::assertSame([3 * self::QUARTER, 3 * self::QUARTER], array_column($planned, 'length'));
        $two = Voices::ofAPass((new VoicePlanner(RandomBeats::changed($beat, [['type' => 'set', 'under' => 'kit/a0', 'voices' => 1]]), $this->sounds()))->loop($passage, 4 * self::QUARTER, Timeline::song($beat), []), 4 * self::QUARTER)['a0'];
        self::assertSame([self::QUARTER + Voice::CHOKE_FADE, 3 * self::QUARTER], array_column($two, 'length'));
    }

    public function testPadsSilenceOthersAndSoundAlong(): void
    {
        $settings = [
            ['type' => 'set-pad', 'pad' => 'a1', 'silences' => ['a0']],
            ['type' => 'set-pad', 'pad' => 'a2', 'along' => ['a3', 'part-2/60', 'a9']],
            ['type' => 'set', 'under' => 'kit', 'a0/voices' => 8, 'a3/levelDb' => -6],
        ];
        $planned = $this->planned($settings, [[0, 'a0', 100], [120, 'a0', 100], [240, 'a1', 100], [480, 'a2', 64, 480]]);
        self::assertSame([11025 + Voice::CHOKE_FADE, 11025 - 5513 + Voice::CHOKE_FADE], array_column($planned['a0'], 'length'), 'both voices of it');
        self::assertSame(3 * self::QUARTER, $planned['a1'][0]->length);
        self::assertSame([22050, 22050, 22050], [$planned['a2'][0]->start, $planned['a3'][0]->start, $planned['part-2'][0]->start]);
        self::assertEqualsWithDelta(10 ** (-6 / 20) * (64 / 127) ** 1.5, $planned['a3'][0]->gainLeft, 1e-9);
        self::assertSame(['a0', 'a1', 'a2', 'a3', 'part-2'], array_values(array_unique(array_map(strval(...), array_keys($planned)))));
    }

    public function testSoundsAnswerInTurnByChanceAndNeverTwice(): void
    {
        $hits = array_map(static fn (int $k): array => [60 * $k, 'a0', 100], range(0, 59));
        $answers = fn (string $answer): string => implode('', array_map(static fn (Voice $v): string => (string) $v->tuneCents, $this->planned([...$this->layers(), ['type' => 'set-pad', 'pad' => 'a0', 'answer' => $answer]], $hits)['a0']));
        self::assertSame(str_repeat('012', 20), $answers('turn'));
        $chance = $answers('chance');
        self::assertSame($chance, $answers('chance'), 'the same every time');
        self::assertMatchesRegularExpression('/00|11|22/', $chance);
        foreach (['0', '1', '2'] as $sound) {
            self::assertEqualsWithDelta(20, substr_count($chance, $sound), 10);
        }
        $fresh = $answers('fresh');
        self::assertDoesNotMatchRegularExpression('/00|11|22/', $fresh);
        self::assertCount(3, count_chars($fresh, 1));
        self::assertSame(180, \count($this->planned([...$this->layers(), ['type' => 'set-pad', 'pad' => 'a0', 'answer' => 'all']], $hits)['a0']));
    }

    public function testStrengthsCrossOverAtEqualPower(): void
    {
        $beat = $this->beat([...$this->layers(), ['type' => 'set-pad', 'pad' => 'a0', 'answer' => 'strength', 'crossfade' => 20]], []);
        $pad = $beat->pad('a0');
        self::assertSame([[1, 43], [44, 85], [86, 127]], array_map(static fn ($l): array => [$l->low, $l->high], $pad->layers));
        for ($velocity = 1; $velocity < 128; ++$velocity) {
            $shares = array_column($pad->answering($velocity), 1);
            self::assertEqualsWithDelta(1.0, array_sum(array_map(static fn (float $s): float => $s * $s, $shares)), 1e-9, "strength $velocity");
        }
        self::assertSame([1, 2, 1], [\count($pad->answering(20)), \count($pad->answering(44)), \count($pad->answering(64))]);
        // An edge takes its neighbour along.
        $moved = RandomBeats::changed($beat, [['type' => 'set', 'under' => 'kit/a0/layers', '0/high' => 90, '1/low' => 91]]);
        self::assertSame([[1, 90], [91, 91], [86, 127]], array_map(static fn ($l): array => [$l->low, $l->high], $moved->pad('a0')->layers));
        $shared = RandomBeats::changed($moved, [['type' => 'share-strengths', 'pad' => 'a0', 'levels' => [['sample' => $pad->main()->sample, 'db' => -20.0]]]]);
        self::assertSame([43, 85, 127], array_column($shared->pad('a0')->layers, 'high'));
    }

    /** A hit of a ladder plays its pad with one setting at another value, and only that hit. */
    public function testHitsOfALadderSetOneThing(): void
    {
        $grades = ['tuneCents=300', 'filter/cutoffHz=800', 'start=0.5', 'levelDb=-99', 'role=3', 'nothing/here=1'];
        $hits = array_map(static fn (string $grade, int $k): array => [960 * $k, 'a0', 127, 240, 100, 0, 0, $grade], $grades, array_keys($grades));
        $beat = $this->beat([['type' => 'set', 'under' => 'kit/a0', 'filter/shape' => 'low-pass']], $hits);
        self::assertEquals($beat, BeatCodec::decode(BeatCodec::encode($beat)));
        $planned = (new VoicePlanner($beat, $this->sounds()))->song([[Passage::of($beat, 'p1', false), 0, 10 * self::QUARTER, null, Timeline::song($beat)]])->current()['a0'] ?? [];
        self::assertSame([300, 0, 0, 0, 0, 0], array_column($planned, 'tuneCents'));
        self::assertSame([0, 0, intdiv(3 * self::QUARTER, 2), 0, 0, 0], array_column($planned, 'from'));
        self::assertSame(1e-3, round($planned[3]->gainLeft, 6));
        self::assertStringContainsString(' 800 ', $planned[1]->shaping->signature ?? '');
        // Several grades of a pad at one tick are a chord of their own; taking the place empties it.
        $chord = RandomBeats::changed($beat, [['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 90, 240, 100, 0, 0, 'tuneCents=700']]]]);
        self::assertCount(7, $chord->pattern('p1')->hits);
        self::assertCount(5, RandomBeats::changed($chord, [['type' => 'edit-hits', 'pattern' => 'p1', 'gesture' => 'remove', 'take' => [[0, 'a0']]]])->pattern('p1')->hits);
        $this->expectExceptionMessage('hits hold a grade that is no setting and number, such as tuneCents=300.');
        RandomBeats::changed($beat, [['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 90, 240, 100, 0, 0, 'rm -rf']]]]);
    }

    public function testAWholeKitIsSetAtOnce(): void
    {
        $beat = $this->beat([['type' => 'set', 'under' => 'part/part-1', 'levelDb' => -6, 'pan' => 1, 'tuneCents' => 1200]], [[0, 'a0', 127]]);
        $voice = (new VoicePlanner($beat, $this->sounds()))->song([[Passage::of($beat, 'p1', false), 0, 10 * self::QUARTER, null, Timeline::song($beat)]])->current()['a0'][0];
        self::assertSame([1200, intdiv(3 * self::QUARTER, 2)], [$voice->tuneCents, $voice->length]);
        self::assertEqualsWithDelta(0.0, $voice->gainLeft, 1e-9);
        self::assertEqualsWithDelta(\M_SQRT2 * 10 ** (-0.3), $voice->gainRight, 1e-9);
        $matched = RandomBeats::changed($beat, [['type' => 'match-levels', 'part' => 'part-1', 'levels' => [['sample' => $beat->pad('a0')->main()->sample, 'db' => -12.0]]]]);
        self::assertSame(0.0, $matched->pad('a0')->levelDb);
    }

    /** @return list<array<string, mixed>> the same sound three times, told apart by its tuning */
    private function layers(): array
    {
        $tone = array_fill(0, 2000, 0.25);
        $hash = Sounds::put($this->folder, new StereoBlock($tone, $tone));
        $sounds = array_fill(0, 2, ['sample' => $hash, 'name' => 'More', 'frames' => 2000, 'role' => 'tonal', 'peakDb' => -12.0]);

        return [['type' => 'land-sounds', 'pad' => 'a0', 'how' => 'stack', 'sounds' => $sounds], ['type' => 'set', 'under' => 'kit/a0/layers', '1/tuneCents' => 1, '2/tuneCents' => 2]];
    }

    /**
     * @param list<array<string, mixed>> $changes
     * @param list<list<int|string>>     $hits
     *
     * @return array<string, list<Voice>>
     */
    private function planned(array $changes, array $hits): array
    {
        $beat = $this->beat($changes, $hits);

        return (new VoicePlanner($beat, $this->sounds()))->song([[Passage::of($beat, 'p1', false), 0, 10 * self::QUARTER, null, Timeline::song($beat)]])->current() ?? [];
    }

    /**
     * @param list<array<string, mixed>> $changes
     * @param list<list<int|string>>     $hits
     */
    private function beat(array $changes, array $hits): Beat
    {
        $tone = array_fill(0, 3 * self::QUARTER, 0.25);
        $hash = Sounds::put($this->folder, new StereoBlock($tone, $tone));
        $fill = static fn (string $pad): array => ['type' => 'fill-pad', 'pad' => $pad, 'sample' => $hash, 'name' => $pad, 'role' => 'tonal', 'start' => 0, 'end' => 3 * self::QUARTER];

        return RandomBeats::changed(Beat::empty('Behaving'), [
            ['type' => 'set-tempo', 'bpm' => 60],
            ...array_map($fill, ['a0', 'a1', 'a2', 'a3']),
            ['type' => 'add-part', 'id' => 'part-2', 'name' => 'Keys', 'sample' => $hash, 'start' => 0, 'end' => 3 * self::QUARTER, 'rootCents' => 6000],
            ...$changes,
            ...[] === $hits ? [] : [['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => $hits]],
        ]);
    }

    private function sounds(): PadSounds
    {
        return new PadSounds(new SampleLibrary($this->folder), Beat::SAMPLE_RATE);
    }
}
