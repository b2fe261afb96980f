<?php

namespace Pestle\Tests\Core\Pattern;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Pattern\Feel;
use Pestle\Core\Pattern\Feeling;
use Pestle\Core\Pattern\Groove;
use Pestle\Core\Pattern\Grooves;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Pattern\Scatter;
use Pestle\Core\Pattern\SwingOn;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\Renderer;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;
use Pestle\Core\Theory\Tempo;
use Pestle\Tests\Core\Render\RandomBeats;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

/** How what is written is played: by known answers, and what holds for every feel. */
final class FeelTest extends TestCase
{
    public function testQuantiseDrawsAsFarAsItIsToldAndOnlyWithinItsWindow(): void
    {
        $place = static fn (Feel $feel, int $tick): float => self::place(self::feeling($feel)->played(new Hit($tick, 'a0', 90)));
        foreach ([0, 1, 119, 121, 250, 3839] as $tick) {
            self::assertSame((float) $tick, $place(new Feel(quantise: 0.0, shiftTicks: 0.0, timingMs: 0.0, spread: 90.0), $tick), 'strength 0 changes nothing');
            self::assertSame(0.0, fmod($place(new Feel(quantise: 100.0), $tick), 240.0), 'all of it lands on the grid');
        }
        self::assertSame(230.0, $place(new Feel(quantise: 50.0), 220));
        self::assertSame(320.0, $place(new Feel(quantise: 100.0, grid: 160), 250));
        self::assertSame([220.0, 240.0], [$place(new Feel(quantise: 100.0, window: 10.0), 220), $place(new Feel(quantise: 100.0, window: 20.0), 220)]);
        // Swing is kept: what is drawn to the grid is swung from there.
        self::assertSame(288.0, $place(new Feel(quantise: 100.0, swing: 60.0), 220));
        self::assertSame([576.0, 480.0], [$place(new Feel(quantise: 100.0, swing: 60.0, swingOn: SwingOn::Eighths), 470), $place(new Feel(swing: 60.0), 480)]);
        $note = self::feeling(new Feel(quantise: 100.0, ends: true))->played(new Note(230, 60, 90, 470));
        self::assertSame([240, 480.0], [$note->tick, $note->lengthTicks()]);
        self::assertSame(470.0, self::feeling(new Feel(quantise: 100.0))->played(new Note(230, 60, 90, 470))->lengthTicks());
    }

    public function testEarlyLateAndLooseInTicksAndMilliseconds(): void
    {
        // At 125 BPM a tick lasts half a millisecond.
        $played = static fn (Feel $feel, int $tick = 960): float => self::place((new Feeling($feel, null, Tempo::bpm(125), 7))->played(new Hit($tick, 'a0', 90)));
        self::assertSame([950.0, 984.0, 974.0], [$played(new Feel(shiftTicks: -10.0)), $played(new Feel(shiftMs: 12.0)), $played(new Feel(shiftTicks: -10.0, shiftMs: 12.0))]);
        self::assertSame(-10.0, $played(new Feel(shiftTicks: -10.0), 0), 'before the start, if need be');
        $loose = array_map(static fn (int $tick): float => $played(new Feel(timingMs: 10.0), $tick) - $tick, range(0, 3600, 36));
        self::assertLessThanOrEqual(20.0, max(array_map(abs(...), $loose)));
        self::assertGreaterThan(8.0, max($loose));
        self::assertLessThan(-8.0, min($loose));
        self::assertSame($loose, array_map(static fn (int $tick): float => $played(new Feel(timingMs: 10.0), $tick) - $tick, range(0, 3600, 36)), 'chance is always the same');
    }

    public function testStrengthsAreSpreadAndScattered(): void
    {
        $strength = static fn (Feel $feel, int $velocity, int $tick = 0): int => self::feeling($feel)->played(new Hit($tick, 'a0', $velocity))->velocity;
        self::assertSame([80, 100, 60, 127], [$strength(new Feel(spread: 0.0), 20), $strength(new Feel(spread: 50.0), 120), $strength(new Feel(spread: 50.0), 40), $strength(new Feel(spread: 200.0), 120)]);
        $around = array_map(static fn (int $i): int => $strength(new Feel(scatter: Scatter::Around, around: 10), 90, 10 * $i), range(0, 300));
        self::assertSame([80, 100], [min($around), max($around)]);
        $between = array_map(static fn (int $i): int => $strength(new Feel(scatter: Scatter::Between, softest: 30, hardest: 50), 120, 10 * $i), range(0, 300));
        self::assertSame([30, 50], [min($between), max($between)]);
    }

    /** A groove of a loop lies on a straight pattern where the loop's hits were, to less than a frame. */
    public function testAGrooveTakenFromWhatWasPlayedPutsHitsWhereTheyWere(): void
    {
        $played = [[3.5, 0.9], [260.0, 0.3], [471.0, 0.6], [735.25, 0.2], [960.0, 1.0], [1225.0, 0.3], [1680.0, 0.5]];
        $groove = Groove::taken('g1', 'Loop', 240, 1920, [...$played, [250.0, 0.1]]);
        $feeling = new Feeling(new Feel(groove: 'g1', grooveLevel: 100.0), $groove, Tempo::bpm(90), 1);
        foreach ($played as [$tick, $level]) {
            $hit = $feeling->played(new Hit((int) round($tick / 240) * 240, 'a0', 64));
            self::assertEqualsWithDelta($tick, self::place($hit), 1 / 256);
            // Bars later it goes round.
            self::assertEqualsWithDelta($tick + 1920, self::place($feeling->played(new Hit((int) round($tick / 240) * 240 + 1920, 'a0', 64))), 1 / 256);
        }
        $loud = static fn (int $tick): int => $feeling->played(new Hit($tick, 'a0', 64))->velocity;
        self::assertEqualsWithDelta(3.0, $loud(0) / $loud(240), 0.1, 'as much louder as it was');
        // Where nothing was played: between the neighbours. Half of it moves half as far.
        self::assertEqualsWithDelta(1440 + (25 + 0) / 2, self::place($feeling->played(new Hit(1440, 'a0', 64))), 0.01);
        self::assertEqualsWithDelta(250.0, self::place((new Feeling(new Feel(groove: 'g1', grooveTiming: 50.0), $groove, Tempo::bpm(90), 1))->played(new Hit(240, 'a0', 64))), 0.01);
        self::assertEquals($groove, self::changedGroove($groove)->groove('g1'));
        foreach (Grooves::all() as $id => $own) {
            self::assertSame($id, $own->id);
            self::assertLessThan($own->grid / 2, max(array_map(static fn (?array $s): float => abs($s[0] ?? 0.0), $own->slots)), 'nothing changes places');
        }
    }

    /** Written in, a feel is heard as it was on top, to the bit, with what chance lets happen: as long as no two fall together and nothing leaves its pattern. */
    public function testWritingInEqualsPlayingOnTop(): void
    {
        $beats = new RandomBeats(Sounds::folder());
        $changed = 0;
        foreach ([1, 3] as $seed) {
            // The step of a note is where it is written.
            $beat = RandomBeats::changed(RandomBeats::dry($beats->felt($seed)), [['type' => 'set-sound', 'part' => 'part-3', 'at' => 1, 'routes' => [['by' => 'chance', 'to' => 'waves/1/width', 'amount' => 0.3], ['by' => 'strength', 'to' => 'filter/cutoffHz', 'amount' => -0.2]]]]);
            $certain = [];
            foreach ($beat->patterns as $pattern) {
                $certain[$pattern->id] = $pattern->with(['hits' => self::apart($pattern->hits, $pattern->ticks), 'notes' => self::apart($pattern->notes, $pattern->ticks)]);
            }
            $beat = $beat->with(['patterns' => $certain]);
            $written = RandomBeats::changed($beat, [['type' => 'write-feel', 'patterns' => array_keys($beat->patterns)]]);
            $changed += (int) ($written->patterns !== $beat->patterns);
            self::assertEquals($written, BeatCodec::decode(BeatCodec::encode($written)));
            self::assertNotEmpty(array_filter(array_merge(...array_values(array_map(static fn (Pattern $p): array => [...$p->hits, ...$p->notes], $written->patterns))), static fn (Hit|Note $e): bool => null !== $e->thrown));
            foreach ($written->patterns as $pattern) {
                self::assertTrue($pattern->feel->isPlain());
            }
            foreach (array_keys($beat->patterns) as $id) {
                self::assertSame(self::print($beat, (string) $id, $beats), self::print($written, (string) $id, $beats), "seed $seed, $id");
            }
        }
        self::assertSame(2, $changed);
    }

    public function testALaneGoesRoundByItselfOverTheWholeSection(): void
    {
        $beats = new RandomBeats(Sounds::folder());
        $beat = RandomBeats::changed($beats->beat(1), [['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 2], ['type' => 'set-section', 'section' => 's1', 'bars' => 4]]);
        $take = array_map(static fn (Hit $h): array => [$h->tick, $h->pad], $beat->pattern('p1')->hits);
        $round = RandomBeats::changed($beat, [['type' => 'edit-hits', 'pattern' => 'p1', 'take' => $take, 'hits' => [[0, 'a0', 100], [480, 'a0', 60], [3000, 'a0', 127]]], ['type' => 'set-lane', 'pattern' => 'p1', 'lane' => 'a0', 'ticks' => 1200]]);
        self::assertSame(1200, BeatCodec::decode(BeatCodec::encode($round))->pattern('p1')->lane('a0')->ticks);
        $hits = [];
        for ($from = 0; $from < 4 * 3840; $from += 1200) {
            array_push($hits, [$from, 'a0', 100], ...$from + 480 < 4 * 3840 ? [[$from + 480, 'a0', 60]] : []);
        }
        $plain = RandomBeats::changed($beat, [['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 4], ['type' => 'edit-hits', 'pattern' => 'p1', 'take' => $take, 'hits' => $hits]]);
        self::assertSame(self::print($plain, 's1', $beats), self::print($round, 's1', $beats));
        self::assertNull(RandomBeats::changed($round, [['type' => 'set-lane', 'pattern' => 'p1', 'lane' => 'a0', 'ticks' => '']])->pattern('p1')->lane('a0')->ticks);
    }

    public function testAHitOfSeveralStrikesIsThatManyHits(): void
    {
        $beats = new RandomBeats(Sounds::folder());
        $beat = $beats->beat(2);
        $take = array_map(static fn (Hit $h): array => [$h->tick, $h->pad], $beat->pattern('p1')->hits);
        $many = RandomBeats::changed($beat, [['type' => 'edit-hits', 'pattern' => 'p1', 'take' => $take, 'hits' => [[240, 'a0', 100, 480, 100, 0, 0, '', 4]]]]);
        $plain = RandomBeats::changed($beat, [['type' => 'edit-hits', 'pattern' => 'p1', 'take' => $take, 'hits' => array_map(static fn (int $i): array => [240 + 120 * $i, 'a0', 100, 120], [0, 1, 2, 3])], ['type' => 'set-feel', 'patterns' => ['p1'], 'swing' => 50]]);
        $many = RandomBeats::changed($many, [['type' => 'set-feel', 'patterns' => ['p1'], 'swing' => 50]]);
        self::assertSame(self::print($plain, 'p1', $beats), self::print($many, 'p1', $beats));
        self::assertSame([240, 'a0', 100, 480, 100, 0, 0, '', 4], BeatCodec::decode(BeatCodec::encode($many))->pattern('p1')->hits[0]->toArray());
    }

    public function testALaneHasAFeelOfItsOwnInPlaceOfThePatterns(): void
    {
        $beat = RandomBeats::changed((new RandomBeats(Sounds::folder()))->beat(1), [['type' => 'set-feel', 'patterns' => ['p1'], 'swing' => 60, 'shiftMs' => 4], ['type' => 'set-feel', 'patterns' => ['p1'], 'lane' => 'a0', 'swing' => 50]]);
        $pattern = $beat->pattern('p1');
        self::assertSame([50.0, 4.0, 60.0], [$pattern->feelOf('a0')->swing, $pattern->feelOf('a0')->shiftMs, $pattern->feelOf('a1')->swing]);
        self::assertSame('Swing 50 % of Kick', Changes::read(['type' => 'set-feel', 'patterns' => ['p1'], 'lane' => 'a0', 'swing' => 50])->label(RandomBeats::changed($beat, [['type' => 'set-pad', 'pad' => 'a0', 'name' => 'Kick']])));
        self::assertNull(RandomBeats::changed($beat, [['type' => 'set-lane', 'pattern' => 'p1', 'lane' => 'a0', 'ownFeel' => 0]])->pattern('p1')->lane('a0')->feel);
        $grooved = RandomBeats::changed($beat, [['type' => 'add-groove', 'id' => 'g1', 'name' => 'Mine', 'pattern' => 'p1', 'lane' => 'a0', 'grid' => 240, 'onto' => ['p1']]]);
        self::assertSame('g1', $grooved->pattern('p1')->feel->groove);
        self::assertEquals($grooved, BeatCodec::decode(BeatCodec::encode($grooved)));
        self::assertSame('', RandomBeats::changed($grooved, [['type' => 'remove-groove', 'groove' => 'g1']])->pattern('p1')->feel->groove);
        $this->expectException(InvalidChange::class);
        $this->expectExceptionMessage('This groove is not in the beat any more.');
        RandomBeats::changed($beat, [['type' => 'set-feel', 'patterns' => ['p1'], 'groove' => 'nowhere']]);
    }

    private static function changedGroove(Groove $groove): Beat
    {
        return BeatCodec::decode(BeatCodec::encode(RandomBeats::changed(Beat::empty('Grooved'), [['type' => 'add-groove', ...$groove->toArray()]])));
    }

    /**
     * Each sound once in a while, so that none lands on itself, and nothing near an edge.
     *
     * @template T of Hit|Note
     *
     * @param list<T> $events
     *
     * @return list<T>
     */
    private static function apart(array $events, int $ticks): array
    {
        $last = $kept = [];
        foreach ($events as $e) {
            $name = $e instanceof Hit ? $e->pad : (string) $e->pitch;
            if ($e->tick >= 250 && $e->tick < $ticks - 250 && $e->tick - ($last[$name] ?? -700) >= 700) {
                $kept[] = $e;
                $last[$name] = $e->tick;
            }
        }

        return $kept;
    }

    private static function feeling(Feel $feel): Feeling
    {
        return new Feeling($feel, null, Tempo::bpm(120), 1);
    }

    private static function place(Hit|Note $event): float
    {
        return $event->tick + $event->fine / Hit::FINE;
    }

    private static function print(Beat $beat, string $what, RandomBeats $beats): string
    {
        $sounds = new PadSounds(new SampleLibrary($beats->folder), Beat::SAMPLE_RATE);
        $hash = hash_init('sha256');
        foreach ((new Renderer($sounds, SegmentCache::none()))->stream(Plan::loop($beat, $what, $sounds)) as $moment) {
            hash_update($hash, $moment->mix->sound());
        }
        self::assertGreaterThan(0, Passage::of($beat, $what, true)->ticks);

        return hash_final($hash);
    }
}
