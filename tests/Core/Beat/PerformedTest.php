<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Beat\Performed;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Mix\Node;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Performance;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\Renderer;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;
use Pestle\Core\Song\Entry;
use Pestle\Core\Song\HeldEffect;
use Pestle\Core\Song\LiveChoice;
use Pestle\Core\Song\LiveSet;
use Pestle\Core\Theory\Meter;
use Pestle\Tests\Core\Render\RandomBeats;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;

/** What is chosen while playing comes when it should, goes on where it was, and is the song in the end. */
final class PerformedTest extends TestCase
{
    private const BAR = 3840;

    /** @return iterable<array{string, int, int}> */
    public static function waits(): iterable
    {
        yield ['once', 1000, 1020];
        yield ['now', 1000, 1200];
        yield ['beat', 1000, 1920];
        yield ['half', 1000, 1920];
        yield ['bar', 1000, 3840];
        yield ['bar', 3840, 3840];
        yield ['2', 3841, 7680];
        yield ['4', 1, 15360];
        // A pattern of three bars that began with the second.
        yield ['end', 5000, 3840 + 11520];
        yield ['end', 3840 + 11521, 3840 + 23040];
    }

    #[DataProvider('waits')]
    public function testAChoiceComesWhenItIsSaidTo(string $wait, int $from, int $comes): void
    {
        self::assertSame($comes, LiveSet::comes($wait, $from, Meter::named('4/4'), 11520, 3840));
    }

    public function testInSixEighthsABarIsShorter(): void
    {
        self::assertSame(5760, LiveSet::comes('bar', 2881, Meter::named('6/8'), 960, 0));
        self::assertSame(2880, LiveSet::comes('bar', 2880, Meter::named('6/8'), 960, 0));
    }

    public function testALaterChoiceTakesThePlaceOfWhatWaitsAndNotOfWhatWasPlayed(): void
    {
        $set = LiveSet::begin(self::beat()->section('s1'))
            ->with(new LiveChoice('l1', self::BAR, ['part-1' => 'p2', 'part-2' => null]), 0)
            ->with(new LiveChoice('l2', 2 * self::BAR, ['part-1' => 'p1']), self::BAR + 100)
            ->with(new LiveChoice('l3', 2 * self::BAR, ['part-1' => null], ['part-2' => true]), self::BAR + 200);
        self::assertSame(['l0', 'l1', 'l3'], array_column($set->choices, 'id'));
        self::assertSame(['part-1' => ['p2', self::BAR]], $set->playing(self::BAR));
        self::assertSame([], $set->playing(2 * self::BAR));
        self::assertSame(['part-2'], $set->muted(2 * self::BAR));
        self::assertSame(['l0', 'l1'], array_column($set->without('l3', self::BAR + 300)->choices, 'id'));
        self::assertSame($set->choices, $set->without('l1', self::BAR + 300)->choices, 'What was played cannot be taken back so.');
        self::assertSame(['l0', 'l1'], array_column($set->until(2 * self::BAR)->choices, 'id'));
        self::assertSame('l4', $set->nextId());
    }

    /** At every tick each part plays what was chosen last, from where that began, whatever others do meanwhile: many by chance. */
    public function testEveryHitFallsWhereItWould(): void
    {
        for ($seed = 1; $seed <= 40; ++$seed) {
            $chance = new Randomizer(new Xoshiro256StarStar($seed));
            $beat = self::beat();
            $set = LiveSet::begin($beat->section('s1'));
            $now = 0;
            for ($i = 1, $n = $chance->getInt(1, 12); $i <= $n; ++$i) {
                $now += $chance->getInt(0, 3 * self::BAR);
                $part = ['part-1', 'part-2'][$chance->getInt(0, 1)];
                $wait = ['now', 'beat', 'bar', '2', 'end'][$chance->getInt(0, 4)];
                $pattern = [...array_keys(array_filter($beat->patterns, static fn ($p): bool => $p->part === $part)), null][$chance->getInt(0, 2)];
                [$playing, $since] = $set->playing($now)[$part] ?? ['p1', 0];
                $tick = LiveSet::comes($wait, $now, $beat->meter, $beat->pattern($playing)->ticks, $since);
                $set = $set->with(0 === $chance->getInt(0, 4) ? new LiveChoice('l'.$i, $tick, [], [$part => 1 === $chance->getInt(0, 1)]) : new LiveChoice('l'.$i, $tick, [$part => $pattern]), $now);
            }
            $from = 0 === $seed % 3 ? self::BAR : 0;
            $to = $set->lastTick() + $chance->getInt(1, 9) * self::BAR + 240 * $chance->getInt(0, 5);
            $song = Performed::song($beat, $set, $from, $to);
            self::assertSame(self::wanted($beat, $set, $from, $to), self::played($song), 'seed '.$seed);
            self::assertSame($to - $from, array_sum(array_map(static fn (Entry $e): int => $e->repeats * $song->section($e->section)->lengthTicks($song->patterns), $song->song)));
            // It is a document like any other.
            self::assertEquals($song, BeatCodec::decode(BeatCodec::encode($song)));
        }
    }

    /** Under a stutter the sixteenth that plays comes again and again, half as fast all takes twice as long; let go, all is where it would be. */
    public function testPatternsAreBentWhileTheyAreHeld(): void
    {
        $beat = self::beat();
        $set = LiveSet::begin($beat->section('s1'))->with(new LiveChoice('l1', 960, [], [], ['stutter' => true]), 0)->with(new LiveChoice('l2', 1920, [], [], ['stutter' => false]), 0);
        // The kick on the second beat, four times; and the rest of the bar as it is.
        self::assertSame([0, 960, 1200, 1440, 1680, 2000, 3840], \array_slice(self::ticksOf('a0', self::played(Performed::song($beat, $set, 0, 2 * self::BAR))), 0, 7));
        $slow = LiveSet::begin($beat->section('s1'))->with(new LiveChoice('l1', self::BAR, [], [], ['half' => true]), 0)->with(new LiveChoice('l2', 3 * self::BAR, [], [], ['half' => false]), 0);
        $hits = self::played(Performed::song($beat, $slow, 0, 5 * self::BAR));
        self::assertSame([0, 960, 2000, 3840, 5760, 7840, 11520, 12480, 13520, 15360, 16320, 17360], self::ticksOf('a0', $hits));
        // A pattern of four bars that is in its second: what comes there comes twice as late, what comes in its third does not come, and then it is in its fourth.
        self::assertSame([0, 3840 + 2 * 160, 15_000], \array_slice(self::ticksOf('b0', $hits), 0, 3));
        // Both at once, one in the midst of the other, with a choice between: a song like any other.
        $both = $slow->with(new LiveChoice('l3', self::BAR + 480, ['part-1' => 'p2'], [], ['stutter' => true]), 0)->with(new LiveChoice('l4', 2 * self::BAR, [], [], ['stutter' => false]), 0);
        $song = Performed::song($beat, $both, 0, 5 * self::BAR);
        self::assertEquals($song, BeatCodec::decode(BeatCodec::encode($song)));
        self::assertSame(5 * self::BAR, array_sum(array_map(static fn (Entry $e): int => $e->repeats * $song->section($e->section)->lengthTicks($song->patterns), $song->song)));
    }

    /** Backwards, what was passed last comes first, from where it was; over one part the other goes on. */
    public function testPatternsGoBackwardsFromWhereTheyAre(): void
    {
        $beat = self::beat();
        $held = static fn (string $what, int $from, int $to): LiveSet => LiveSet::begin($beat->section('s1'))->with(new LiveChoice('l1', $from, [], [], [$what => true]), 0)->with(new LiveChoice('l2', $to, [], [], [$what => false]), 0);
        $all = self::played(Performed::song($beat, $held('backwards', 1920, 1920 + self::BAR), 0, 4 * self::BAR));
        self::assertSame([0, 960, 2880, 3840, 5680, 5840, 7680], \array_slice(self::ticksOf('a0', $all), 0, 7));
        // Of four bars, 1,920 ticks after its start: the bell on its first beat, then the one late in its last bar.
        self::assertSame([0, 3840, 3840 + 360], \array_slice(self::ticksOf('b0', self::played(Performed::song($beat, $held('backwards', 1920, 2 * self::BAR), 0, 8 * self::BAR))), 0, 3));
        $one = self::played(Performed::song($beat, $held('backwards/part-2', 1920, 2 * self::BAR), 0, 4 * self::BAR));
        self::assertSame([0, 960, 2000, 3840, 4800, 5840], \array_slice(self::ticksOf('a0', $one), 0, 6));
        self::assertSame([0, 3840, 4200], \array_slice(self::ticksOf('b0', $one), 0, 3));
        // Held over everything and over one: the one that began first counts, and the song is one like any other.
        $both = $held('backwards', self::BAR, 2 * self::BAR)->with(new LiveChoice('l3', 960, [], [], ['backwards/part-1' => true]), 0);
        $song = Performed::song($beat, $both, 0, 4 * self::BAR);
        self::assertEquals($song, BeatCodec::decode(BeatCodec::encode($song)));
        self::assertSame([0, 960, 1920, 3760], \array_slice(self::ticksOf('a0', self::played($song)), 0, 4));
    }

    /** Over one part an effect lies in the lines it is heard through; all others sound as they would, to the bit. */
    public function testWhatIsHeldOverAPartLiesInItsLinesAlone(): void
    {
        $beats = new RandomBeats(Sounds::folder());
        $beat = $beats->parts(3);
        $set = LiveSet::begin($beat->section('s1'))->with(new LiveChoice('l1', 240, [], [], ['tone/part-3' => true]), 0);
        self::assertSame(['part-3'], $set->heldParts());
        $plain = Performed::song($beat, LiveSet::begin($beat->section('s1')), 0, 2 * $beat->meter->barTicks());
        $held = Performed::song($beat, $set, 0, 2 * $beat->meter->barTicks());
        $line = $beat->part('part-3')->keys->channel ?? self::fail('No keys.');
        foreach ($held->mixer->nodes as $id => $node) {
            self::assertSame(\count($plain->mixer->nodes[$id]->inserts) + (int) ($id === $line), \count($node->inserts), (string) $id);
        }
        self::assertCount(\count($plain->mixer->master->inserts), $held->mixer->master->inserts);
        $moves = array_diff_key($held->movements->all, $plain->movements->all);
        self::assertCount(2, $moves);
        foreach ($moves as $movement) {
            self::assertStringStartsWith("mixer/$line/inserts/", $movement->path);
        }
        self::assertEquals($held, BeatCodec::decode(BeatCodec::encode($held)));
        // A kit is heard through the lines of its pads; of a part that is gone nothing is left.
        $kit = Performed::song($beat, LiveSet::begin($beat->section('s1'))->with(new LiveChoice('l1', 240, [], [], ['echo/part-1' => true, 'echo/part-9' => true]), 0), 0, 3840);
        $pads = array_unique(array_map(static fn (Pad $pad): string => $pad->channel, array_filter($beat->kit->pads, static fn (Pad $pad): bool => 'part-1' === $beat->kit->partOf($pad->id))));
        self::assertCount(\count($pads), array_filter($kit->mixer->nodes, static fn (Node $node): bool => \count($node->inserts) > \count($plain->mixer->nodes[$node->id]->inserts)));
    }

    /** While nothing else was chosen than sections that are there, the song is made of these. */
    public function testWhatWasThereIsUsed(): void
    {
        $beat = RandomBeats::changed(self::beat(), [['type' => 'add-section', 'id' => 's2', 'name' => 'Other', 'copyOf' => 's1', 'linked' => true], ['type' => 'set-cell', 'section' => 's2', 'part' => 'part-1', 'pattern' => 'p2']]);
        $set = LiveSet::begin($beat->section('s1'))->with(new LiveChoice('l1', 8 * self::BAR, $beat->section('s2')->patterns), 100);
        $song = Performed::song($beat, $set, 0, 20 * self::BAR);
        self::assertSame(['s1', 's2'], array_values(array_map(static fn (Entry $e): string => $e->section, $song->song)));
        self::assertSame(array_keys($beat->patterns), array_keys($song->patterns));
        // The same performed twice needs no more sections.
        $odd = $set->with(new LiveChoice('l2', 13 * self::BAR, ['part-1' => null]), 9 * self::BAR);
        $once = Performed::song($beat, $odd, 0, 20 * self::BAR);
        self::assertGreaterThan(\count($beat->sections), \count($once->sections));
        self::assertCount(\count($once->sections), Performed::song($once, $odd, 0, 20 * self::BAR)->sections);
    }

    /** What is chosen for later changes no sound before it: what was heard stays what is kept, to the bit. */
    #[TestWith([3])]
    #[TestWith([-1])]
    public function testWhatWasHeardIsWhatIsKept(int $seed): void
    {
        $beats = new RandomBeats(Sounds::folder());
        $beat = $seed < 0 ? $beats->felt(-$seed) : $beats->beat($seed);
        $part = (string) array_key_first($beat->parts);
        $set = LiveSet::begin($beat->section('s1'));
        $far = Performed::song($beat, $set, 0, 40 * self::BAR);
        $later = $set->with(new LiveChoice('l1', self::BAR + 960, [$part => null]), 500)->with(new LiveChoice('l2', 2 * self::BAR, [$part => 'p1']), 5000);
        $near = Performed::song($beat, $later, 0, 3 * self::BAR);
        $before = $beat->tempo->frames(self::BAR + 960, Beat::SAMPLE_RATE) - 4096;
        self::assertGreaterThan(0.01, ($heard = self::sound($beats, $far, $before))->peak());
        self::assertEquals($heard, self::sound($beats, $near, $before));
        // And from where it comes it does.
        $until = $before + 16_384;
        self::assertNotEquals(self::sound($beats, $far, $until)->slice($before + 8192, 8192), self::sound($beats, $near, $until)->slice($before + 8192, 8192));
    }

    /** Held, the tone closes; before it and after it is let go the sound is as it would be, to the bit. */
    #[TestWith([HeldEffect::Tone])]
    #[TestWith([HeldEffect::Thin])]
    #[TestWith([HeldEffect::Echo])]
    public function testWhatIsHeldIsHeardMeanwhileAndOnlyThen(HeldEffect $effect): void
    {
        $beats = new RandomBeats(Sounds::folder());
        $beat = RandomBeats::changed($beats->beat(1), [['type' => 'set', 'under' => 'mixer/master', 'gainDb' => -12]]);
        $set = LiveSet::begin($beat->section('s1'));
        $held = $set->with(new LiveChoice('l1', self::BAR, [], [], [$effect->value => true]), 0)->with(new LiveChoice('l2', 2 * self::BAR - 300, [], [], [$effect->value => false]), 0);
        self::assertSame([[self::BAR, 2 * self::BAR - 300]], $held->held($effect));
        self::assertSame([], $held->cuts(0, 9 * self::BAR), 'Nothing else changes.');
        $at = static fn (float $bars): int => $beat->tempo->frames((int) ($bars * self::BAR), Beat::SAMPLE_RATE);
        $song = Performed::song($beat, $held, 0, 3 * self::BAR);
        [$plain, $heard] = [self::sound($beats, Performed::song($beat, $set, 0, 3 * self::BAR), $at(3)), self::sound($beats, $song, $at(3))];
        // Sound comes late by what the effect looks ahead: nothing.
        self::assertEquals($plain->slice(0, $at(1) - 4096), $heard->slice(0, $at(1) - 4096));
        self::assertNotEquals($plain->slice($at(1.5), 20_000), $heard->slice($at(1.5), 20_000));
        self::assertEquals($plain->slice($at(2.5), 20_000), $heard->slice($at(2.5), 20_000));
        self::assertGreaterThan(0.001, $heard->slice($at(1), $at(1))->peak());
        self::assertEquals($song, BeatCodec::decode(BeatCodec::encode($song)));
        // That it would be let go was not known yet: what was heard then is what is kept.
        $open = self::sound($beats, Performed::song($beat, LiveSet::begin($beat->section('s1'))->with(new LiveChoice('l1', self::BAR, [], [], [$effect->value => true]), 0), 0, 3 * self::BAR), $at(1.9));
        self::assertEquals($open, $heard->slice(0, $at(1.9)));
        // While it is not let go it goes on; of a later stretch it is as it is there.
        self::assertSame([[self::BAR, null]], $held->until(2 * self::BAR - 300)->held($effect));
        $later = Performed::song($beat, $held, self::BAR, 3 * self::BAR);
        self::assertSame(0.0, array_values($later->movements->all)[0]->curve->points[1][0]);
    }

    public function testItIsAChangeThatCanBeTakenBackAndSaysWhatItCannotDo(): void
    {
        $beat = self::beat();
        $set = LiveSet::begin($beat->section('s1'))->with(new LiveChoice('l1', self::BAR, ['part-2' => null], ['part-1' => true]), 0);
        $fields = ['type' => 'perform-song', 'choices' => json_decode((string) json_encode($set->toArray()), true), 'from' => 0, 'to' => 4 * self::BAR];
        self::assertEquals(Performed::song($beat, $set, 0, 4 * self::BAR), Changes::read($fields)->apply($beat));
        foreach ([[...$fields, 'to' => 0], [...$fields, 'choices' => []], [...$fields, 'choices' => [['id' => 'l0', 'tick' => 5, 'patterns' => [], 'muted' => []]]]] as $wrong) {
            try {
                Changes::read($wrong);
                self::fail('It is refused.');
            } catch (InvalidChange $e) {
                self::assertMatchesRegularExpression('/^(choices|to) /', $e->getMessage());
            }
        }
        // What is gone since is left out.
        $gone = RandomBeats::changed($beat, [['type' => 'remove-pattern', 'pattern' => 'p3']]);
        self::assertSame([], array_filter(array_map(static fn ($s): array => array_intersect($s->patterns, ['p3']), Performed::song($gone, $set, 0, 4 * self::BAR)->sections)));
    }

    /** A lane whose own round is longer than what plays: found when a performance was cut into short stretches. */
    public function testALaneLongerThanItsSectionIsPlayedOnce(): void
    {
        $beat = RandomBeats::changed(self::beat(), [['type' => 'set-lane', 'pattern' => 'p1', 'lane' => 'a0', 'ticks' => 1920]]);
        self::assertNotNull($beat->pattern('p1')->lane('a0')->ticks);
        foreach ([240, 1] as $ticks) {
            $song = Performed::song($beat, LiveSet::begin($beat->section('s1')), 0, $ticks);
            // The bell of the other part falls there as well.
            self::assertCount(2, iterator_to_array((new Performance($song))->of(Passage::of($song, 's2', false), 0), false));
        }
    }

    private static function beat(): Beat
    {
        $hits = static fn (string $pad, int ...$ticks): array => array_map(static fn (int $t): array => [$t, $pad, 100], $ticks);

        return RandomBeats::changed(Beat::empty('Jam'), [
            ['type' => 'fill-pad', 'pad' => 'a0', 'sample' => str_repeat('a', 64), 'name' => 'Kick', 'role' => 'kick', 'start' => 0, 'end' => 900],
            ['type' => 'fill-pad', 'pad' => 'a1', 'sample' => str_repeat('b', 64), 'name' => 'Snare', 'role' => 'snare', 'start' => 0, 'end' => 900],
            ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 1],
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => $hits('a0', 0, 960, 2000)],
            ['type' => 'add-pattern', 'id' => 'p2', 'name' => 'Three bars', 'part' => 'part-1'],
            ['type' => 'set-pattern', 'pattern' => 'p2', 'bars' => 3],
            ['type' => 'edit-hits', 'pattern' => 'p2', 'hits' => $hits('a1', 240, 5000, 11000)],
            ['type' => 'add-part', 'id' => 'part-2', 'name' => 'More'],
            ['type' => 'fill-pad', 'pad' => 'b0', 'sample' => str_repeat('c', 64), 'name' => 'Bell', 'role' => 'percussion', 'start' => 0, 'end' => 900],
            ['type' => 'add-pattern', 'id' => 'p3', 'name' => 'Four bars', 'part' => 'part-2'],
            ['type' => 'set-pattern', 'pattern' => 'p3', 'bars' => 4],
            ['type' => 'edit-hits', 'pattern' => 'p3', 'hits' => $hits('b0', 0, 4000, 8123, 15000)],
            ['type' => 'add-pattern', 'id' => 'p4', 'name' => 'Two bars', 'part' => 'part-2'],
            ['type' => 'set-pattern', 'pattern' => 'p4', 'bars' => 2],
            ['type' => 'edit-hits', 'pattern' => 'p4', 'hits' => $hits('b0', 500, 6000)],
            ['type' => 'set-cell', 'section' => 's1', 'part' => 'part-2', 'pattern' => 'p3'],
        ]);
    }

    /**
     * @param list<string> $hits tick and pad of each
     *
     * @return list<int>
     */
    private static function ticksOf(string $pad, array $hits): array
    {
        return array_values(array_map(static fn (string $hit): int => (int) $hit, array_filter($hits, static fn (string $hit): bool => str_ends_with($hit, $pad))));
    }

    /** @return list<string> tick and pad of every hit of the song, in order */
    private static function played(Beat $song): array
    {
        $hits = [];
        $start = 0;
        foreach (Passage::song($song) as $entry) {
            $passage = Passage::ofEntry($song, $entry);
            for ($pass = 0; $pass < $entry->repeats; ++$pass, $start += $passage->ticks) {
                foreach ($passage->patterns as [$pattern, $at]) {
                    foreach ($pattern->hits as $hit) {
                        if ($at + $hit->tick < $passage->ticks) {
                            $hits[] = \sprintf('%07d %s', $start + $at + $hit->tick, $hit->pad);
                        }
                    }
                }
            }
        }
        sort($hits);

        return $hits;
    }

    /** @return list<string> */
    private static function wanted(Beat $beat, LiveSet $set, int $from, int $to): array
    {
        $hits = [];
        $places = array_map(static fn (Pattern $p): array => array_map(static fn (Hit $hit): array => [$hit->tick, $hit->pad], $p->hits), $beat->patterns);
        for ($tick = $from; $tick < $to; ++$tick) {
            foreach ($set->playing($tick) as $part => [$id, $since]) {
                foreach ($places[$id] as [$at, $pad]) {
                    if ($at === ($tick - $since) % $beat->patterns[$id]->ticks && !\in_array($part, $set->muted($tick), true)) {
                        $hits[] = \sprintf('%07d %s', $tick - $from, $pad);
                    }
                }
            }
        }
        sort($hits);

        return $hits;
    }

    private static function sound(RandomBeats $beats, Beat $beat, int $frames): StereoBlock
    {
        $sounds = new PadSounds(new SampleLibrary($beats->folder), Beat::SAMPLE_RATE, 400_000);
        $out = StereoBlock::silence(0);
        foreach ((new Renderer($sounds, SegmentCache::none()))->stream(Plan::song($beat, Passage::song($beat), $sounds)) as $moment) {
            $out = $out->append($moment->mix->block());
            if ($out->frames() >= $frames) {
                break;
            }
        }

        return $out->slice(0, $frames);
    }
}
