<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Pattern\Hit;
use Pestle\Tests\Core\Render\RandomBeats;
use PHPUnit\Framework\TestCase;

/** Slices on pads, in orders of the maker's own, and one sound for all of a kind. */
final class SlicesTest extends TestCase
{
    private const SAMPLE = 'bb112233445566778899aabbccddeeff00112233445566778899aabbccddeeff';
    private const OTHER = 'cc112233445566778899aabbccddeeff00112233445566778899aabbccddeeff';
    /** Two seconds at 44.1 kHz, four slices: at 120 BPM one bar. */
    private const MARKERS = [0, 11025, 44100, 66150];
    private const FRAMES = 88200;

    public function testThePatternReplaysTheLoopToTheMillisecond(): void
    {
        $beat = self::made(self::sliced(), 'slices-to-pads', ['bars' => 1]);
        self::assertSame(['a0', 'a1', 'a2', 'a3'], array_map(strval(...), array_keys($beat->kit->pads)));
        foreach ($beat->pattern('p2')->hits as $i => $hit) {
            self::assertEqualsWithDelta(self::MARKERS[$i] / 44100, $beat->tempo->frames($hit->tick, 44100) / 44100, 0.001);
            self::assertSame(self::MARKERS[$i], $beat->pad($hit->pad)->main()->start);
        }
    }

    public function testTheyGoWhereTheMakerSays(): void
    {
        $beat = self::sliced();
        $beat = Changes::read(['type' => 'fill-pad', 'pad' => 'a1', 'sample' => self::OTHER, 'name' => 'Keeps its place', 'role' => 'kick', 'start' => 0, 'end' => 99])->apply($beat);
        $free = self::made($beat, 'slices-to-pads', ['bank' => 'free', 'replay' => 0]);
        self::assertSame('Keeps its place', $free->pad('a1')->name);
        self::assertSame([0, 11025], [$free->pad('a0')->main()->start, $free->pad('a2')->main()->start]);
        self::assertCount(1, $free->patterns, 'no pattern was asked for');
        $over = self::made($beat, 'slices-to-pads', ['bank' => 'a']);
        self::assertSame(self::SAMPLE, $over->pad('a1')->main()->sample);
        self::assertCount(1, $over->mixer->of(NodeKind::Channel), 'the channel of what was there is gone with it');
        $new = self::made($beat, 'slices-to-pads', []);
        self::assertSame(['a', 'b'], array_map(static fn ($bank): string => $bank->id, $new->kit->banks));
        // Ordered by pitch: the pads are in that order, the pattern still replays the loop.
        $pitch = self::made(self::sliced(), 'slices-to-pads', ['order' => [2, 0, 3, 1], 'bars' => 1]);
        self::assertSame([44100, 0, 66150, 11025], array_values(array_map(static fn (Pad $p): int => $p->main()->start, $pitch->kit->pads)));
        self::assertSame(['a1', 'a3', 'a0', 'a2'], array_map(static fn (Hit $h): string => $h->pad, $pitch->pattern('p2')->hits));
        $this->expectException(InvalidChange::class);
        $this->expectExceptionMessage('bank must be a bank of this beat, or "free".');
        self::made($beat, 'slices-to-pads', ['bank' => 'h']);
    }

    public function testMoreSlicesThanPadsOpenFurtherBanks(): void
    {
        $beat = Changes::read(['type' => 'set-slices', 'sample' => self::SAMPLE, 'markers' => range(0, 39 * 2000, 2000)])->apply(Beat::empty('Many'));
        $beat = self::made($beat, 'slices-to-pads', ['bank' => 'free']);
        self::assertCount(40, $beat->kit->pads);
        self::assertSame(['a', 'b', 'c'], array_map(static fn ($bank): string => $bank->id, $beat->kit->banks));
    }

    public function testAnOrderOfOnesOwnBecomesAPattern(): void
    {
        $beat = self::made(self::sliced(), 'arrange-slices', ['order' => [3, 0, 0, 2]]);
        self::assertCount(4, $beat->kit->pads, 'they went to pads first');
        self::assertSame(['p1', 'p2'], array_keys($beat->patterns));
        $hits = $beat->pattern('p2')->hits;
        self::assertSame([66150, 0, 0, 44100], array_map(static fn (Hit $h): int => $beat->pad($h->pad)->main()->start, $hits));
        // Each begins where the one before ends: 0.5, 0.25, 0.25 seconds at 120 BPM.
        self::assertSame([0, 960, 1440, 1920], array_map(static fn (Hit $h): int => $h->tick, $hits));
        self::assertSame([960, 480, 480, 960], array_map(static fn (Hit $h): int => $h->length, $hits));
        // Once more: the pads are there already.
        $again = self::made($beat, 'arrange-slices', ['order' => [1]]);
        self::assertCount(4, $again->kit->pads);
        self::assertSame('Drums rearranged', Changes::read(self::fields('arrange-slices', ['order' => [1]]))->label($again));
        foreach ([[['order' => []], 'order must name at least one slice.'], [['order' => [9]], 'order names slice 10; there are 4.']] as [$fields, $message]) {
            try {
                self::made($beat, 'arrange-slices', $fields);
                self::fail('It was not refused.');
            } catch (InvalidChange $e) {
                self::assertSame($message, $e->getMessage());
            }
        }
    }

    public function testSeveralSetsOfSlicesAreKept(): void
    {
        $set = static fn (Beat $beat, string $how, string $name): Beat => Changes::read(['type' => 'slice-set', 'sample' => self::SAMPLE, 'how' => $how, 'name' => $name])->apply($beat);
        $beat = $set(self::sliced(), 'keep', 'hits');
        $beat = Changes::read(['type' => 'set-slices', 'sample' => self::SAMPLE, 'markers' => [0, 44100], 'how' => 'equal'])->apply($beat);
        $beat = $set($beat, 'keep', 'halves');
        $beat = BeatCodec::decode(BeatCodec::encode($beat));
        self::assertSame(['hits', 'halves'], array_keys($beat->sliceSets[self::SAMPLE]));
        $back = $set($beat, 'use', 'hits');
        self::assertSame(self::MARKERS, $back->slices[self::SAMPLE]->markers);
        // Sets move with the sound, as the slices in use do.
        $cut = Changes::read(['type' => 'set-edits', 'sample' => self::SAMPLE, 'frames' => self::FRAMES, 'edits' => [['kind' => 'keep', 'from' => 44100, 'to' => self::FRAMES]]])->apply($back);
        self::assertSame([0, 22050], $set($cut, 'use', 'hits')->slices[self::SAMPLE]->markers);
        self::assertSame(['halves'], array_keys($set($beat, 'remove', 'hits')->sliceSets[self::SAMPLE]));
        self::assertSame([], $set($set($beat, 'remove', 'hits'), 'remove', 'halves')->sliceSets);
        $this->expectExceptionMessage('There is no set "thirds" of this sample any more.');
        $set($beat, 'use', 'thirds');
    }

    public function testOneSoundForAllOfAKind(): void
    {
        $roles = array_map(static fn (string $role): array => ['role' => $role], ['kick', 'snare', 'kick', 'snare']);
        $beat = self::made(self::sliced(), 'slices-to-pads', ['roles' => $roles, 'bars' => 1]);
        $best = Changes::read(['type' => 'one-for-all', 'sample' => self::SAMPLE, 'role' => 'snare', 'pad' => 'a3'])->apply($beat);
        self::assertSame(['a0', 'a3', 'a2', 'a3'], array_map(static fn (Hit $h): string => $h->pad, $best->pattern('p2')->hits));
        self::assertSame(array_map(static fn (Hit $h): array => [$h->tick, $h->velocity], $beat->pattern('p2')->hits), array_map(static fn (Hit $h): array => [$h->tick, $h->velocity], $best->pattern('p2')->hits));
        // Another sound altogether.
        $beat = Changes::read(['type' => 'fill-pad', 'pad' => 'a9', 'sample' => self::OTHER, 'name' => 'Jar', 'role' => 'kick', 'start' => 0, 'end' => 99])->apply($beat);
        $change = Changes::read(['type' => 'one-for-all', 'sample' => self::SAMPLE, 'role' => 'kick', 'pad' => 'a9']);
        self::assertSame('Jar for every kick', $change->label($beat));
        self::assertSame(['a9', 'a1', 'a9', 'a3'], array_map(static fn (Hit $h): string => $h->pad, $change->apply($beat)->pattern('p2')->hits));
        $this->expectExceptionMessage('No other pad holds a clap of this sample.');
        Changes::read(['type' => 'one-for-all', 'sample' => self::SAMPLE, 'role' => 'clap', 'pad' => 'a9'])->apply($beat);
    }

    private static function sliced(): Beat
    {
        $beat = Changes::read(['type' => 'set-tempo', 'bpm' => 120])->apply(Beat::empty('Slices'));

        return Changes::read(['type' => 'set-slices', 'sample' => self::SAMPLE, 'markers' => self::MARKERS])->apply($beat);
    }

    /** @param array<string, mixed> $fields */
    private static function made(Beat $beat, string $type, array $fields): Beat
    {
        return Changes::read(self::fields($type, $fields))->apply($beat);
    }

    /**
     * @param array<string, mixed> $fields
     *
     * @return array<string, mixed>
     */
    private static function fields(string $type, array $fields): array
    {
        return ['type' => $type, 'sample' => self::SAMPLE, 'name' => 'Drums', 'frames' => self::FRAMES, 'rate' => 44100, 'role' => 'tonal', ...$fields];
    }

    /** Without a pattern that replays it, nothing but the arrangement is written. */
    public function testArrangingSlicesKeepsAllPatterns(): void
    {
        $hash = str_repeat('ab', 32);
        $beat = RandomBeats::changed(Beat::empty('Arranged'), [
            ['type' => 'set-slices', 'sample' => $hash, 'markers' => [0, 20000]],
            ['type' => 'arrange-slices', 'sample' => $hash, 'name' => 'Loop', 'frames' => 40000, 'rate' => 44100, 'role' => 'tonal', 'order' => [1, 0], 'replay' => 0],
        ]);
        self::assertSame(['Pattern 1', 'Loop rearranged'], array_values(array_map(static fn ($p): string => $p->name, $beat->patterns)));
    }

    /** The first thing a new beat plays is what was put on its pads, not its empty pattern. */
    public function testASongOfSilenceBeginsWithTheSlices(): void
    {
        $hash = str_repeat('ab', 32);
        $slice = ['type' => 'slices-to-pads', 'sample' => $hash, 'name' => 'Loop', 'frames' => 40000, 'rate' => 44100, 'role' => 'tonal'];
        $beat = RandomBeats::changed(Beat::empty('New'), [['type' => 'set-slices', 'sample' => $hash, 'markers' => [0, 20000]], $slice]);
        self::assertSame(['s1'], array_column(Passage::song($beat), 'section'));
        self::assertSame('p2', $beat->section('s1')->patterns['part-1']);
        $again = RandomBeats::changed($beat, [$slice]);
        self::assertSame($beat->song, $again->song, 'a song that sounds stays as it is');
        self::assertSame(['part-1' => 'p3'], $again->section('s2')->patterns, 'and the new pattern can be heard beside it');
    }
}
