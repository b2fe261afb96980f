<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\KnownPatterns;
use Pestle\Core\Beat\Parameters;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Mix\FaderPlace;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\Renderer;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;
use Pestle\Core\Song\Entry;
use Pestle\Core\Theory\SoundRules;
use Pestle\Tests\Core\Render\RandomBeats;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;

final class BeatTest extends TestCase
{
    private const HASH = '00112233445566778899aabbccddeeff00112233445566778899aabbccddeeff';

    public function testABeatIsWrittenCanonicallyAndReadBack(): void
    {
        $beats = new RandomBeats(Sounds::folder());
        for ($seed = 1; $seed <= 12; ++$seed) {
            $beat = $beats->beat($seed);
            $json = BeatCodec::encode($beat);
            self::assertEquals($beat, BeatCodec::decode($json));
            self::assertSame($json, BeatCodec::encode(BeatCodec::decode($json)));
        }
    }

    /**
     * PHP takes keys that are digits for numbers, and lists that are spread are numbered anew.
     *
     * @param array<string, string> $more
     */
    #[TestWith(['add-pattern', ['name' => 'Nine']])]
    #[TestWith(['add-section', ['name' => 'Nine']])]
    #[TestWith(['add-node', ['name' => 'Nine', 'kind' => 'group']])]
    #[TestWith(['keep-mix', ['name' => 'Nine']])]
    public function testIdsBeginWithALetter(string $type, array $more): void
    {
        foreach (['9', '9a', '-', ''] as $id) {
            try {
                Changes::read(['type' => $type, 'id' => $id, ...$more]);
                self::fail("\"$id\" is no id.");
            } catch (InvalidChange $e) {
                self::assertStringStartsWith('id must', $e->getMessage());
            }
        }
        $beat = Changes::apply(Changes::read(['type' => $type, 'id' => 'n9', ...$more]), Beat::empty('Nine'));
        self::assertEquals($beat, BeatCodec::decode(BeatCodec::encode($beat)));
    }

    public function testSlicesMayBeKeptUnderANumber(): void
    {
        $slices = [['type' => 'set-slices', 'sample' => self::HASH, 'markers' => [0, 500]], ['type' => 'slice-set', 'sample' => self::HASH, 'name' => '7', 'how' => 'keep'], ['type' => 'slice-set', 'sample' => self::HASH, 'name' => '3', 'how' => 'keep'], ['type' => 'slice-set', 'sample' => self::HASH, 'name' => '7', 'how' => 'use']];
        $beat = RandomBeats::changed(Beat::empty('Sets'), $slices);
        self::assertSame([7, 3], array_keys($beat->sliceSets[self::HASH]));
        self::assertEquals($beat, BeatCodec::decode(BeatCodec::encode($beat)));
    }

    /** The file was written by the first version of the format and stays as it is. */
    public function testFormat1StaysReadable(): void
    {
        $beat = BeatCodec::decode((string) file_get_contents(\dirname(__DIR__, 2).'/fixtures/beat-format-1.json'));
        self::assertSame(['Kettle', 86.0, 'D minor'], [$beat->name, $beat->tempo->bpm, $beat->key?->name()]);
        self::assertSame('snare', $beat->pad('a1')->role->value);
        self::assertEquals([new Hit(0, 'a0', 120), new Hit(971, 'a1', 112, 240, 75)], $beat->pattern('p1')->hits);
        self::assertSame(-6.5, $beat->channel('c2')->gainDb);
        self::assertSame([0, 22050], $beat->slices[self::HASH]->markers);
    }

    /** With edits and sets of slices; written before slices said anything and pads had layers. */
    public function testFormat2StaysReadable(): void
    {
        $beat = BeatCodec::decode((string) file_get_contents(\dirname(__DIR__, 2).'/fixtures/beat-format-2.json'));
        $sample = str_repeat('ab12', 16);
        self::assertSame([0, 13781, 27563], $beat->slices[$sample]->markers);
        self::assertSame([0, 13781, 27563], $beat->sliceSets[$sample]['Three']->markers);
        self::assertSame(['Stretch to 125 %', 'Fade out, S-shaped', 'Old converter, 12 bit, 26 kHz'], array_map(static fn ($edit): string => $edit->title(), $beat->edits[$sample]->list));
        self::assertSame([false, 1], [$beat->pad('a1')->main()->reversed, \count($beat->pad('a1')->layers)]);
        self::assertSame([[0, 13781], [13781, 27563], [27563, 55125]], $beat->slices[$sample]->regions(55125));
        self::assertEquals($beat, BeatCodec::decode(BeatCodec::encode($beat)));
    }

    /** Levels of groups and master lay before their compressors: they stay where that is heard. */
    public function testFormat3StaysReadable(): void
    {
        $beat = BeatCodec::decode((string) file_get_contents(\dirname(__DIR__, 2).'/fixtures/beat-format-3.json'));
        self::assertSame(['From format 3', 'Verse'], [$beat->name, $beat->pattern('p1')->name]);
        self::assertSame([-6.0, FaderPlace::Before], [$beat->channel('drums')->gainDb, $beat->channel('drums')->fader]);
        self::assertSame([12.0, FaderPlace::After], [$beat->mixer->master->gainDb, $beat->mixer->master->fader]);
        self::assertTrue($beat->pad('a0')->main()->reversed);
        self::assertSame('Layer', $beat->pad('a1')->layers[0]->name);
        self::assertCount(3, $beat->edits['ee511ef63bd76df0672ca00d7da6948ba195947c52d13168a3a068607b09ad31']->list);
        self::assertEquals($beat, BeatCodec::decode(BeatCodec::encode($beat)));
    }

    /** A kit and an order of patterns become a part and sections; what was heard is heard, to the bit. */
    public function testFormat4StaysReadableAndSoundsTheSame(): void
    {
        /** @var list<array{beat: array<string, mixed>, song: string, loop: string}> $kept */
        $kept = json_decode((string) file_get_contents(\dirname(__DIR__, 2).'/fixtures/beats-format-4.json'), true);
        $samples = new RandomBeats(Sounds::folder());
        $sounds = new PadSounds(new SampleLibrary($samples->folder), Beat::SAMPLE_RATE);
        foreach ($kept as ['beat' => $document, 'song' => $song, 'loop' => $loop]) {
            $beat = BeatCodec::decode(BeatCodec::json($document));
            self::assertSame([['s1', 2], ['s2', 1], ['s3', 1], ['s1', 2]], array_map(static fn (Entry $e): array => [$e->section, $e->repeats], Passage::song($beat)), 'the same again is the same section, and what was empty lasted');
            self::assertSame(['Pattern 1', 'Silent', 'Other'], array_values(array_map(static fn ($s): string => $s->name, $beat->sections)));
            self::assertSame($song, self::print(Plan::song($beat, Passage::song($beat), $sounds), $sounds));
            self::assertSame($loop, self::print(Plan::loop($beat, 's3', $sounds), $sounds));
            self::assertEquals($beat, BeatCodec::decode(BeatCodec::encode($beat)));
        }
    }

    /** Whatever can be set is stored, read again, and told by its path; what lies beyond its bounds is refused by its path. */
    public function testEveryParameterIsSetStoredAndTold(): void
    {
        $beat = (new RandomBeats(Sounds::folder()))->parts(1);
        $all = Parameters::all($beat);
        self::assertGreaterThan(250, \count($all));
        self::assertCount(\count($all), array_unique(array_column($all, 'path')));
        foreach (array_chunk($all, 12) as $some) {
            $set = $values = [];
            foreach ($some as $setting) {
                $p = $setting->parameter;
                $set[$setting->path] = $value = match (true) {
                    null !== $p->choice => array_reverse($p->choice::cases())[0]->value,
                    \is_bool($p->default) => true !== $setting->value,
                    default => $setting->value === $p->most ? $p->least : $p->most,
                };
                $values[$setting->path] = $p->read($value);
                if (null === $p->choice && !\is_bool($p->default)) {
                    try {
                        Changes::read(['type' => 'set', $setting->path => $p->most + 1])->apply($beat);
                        self::fail($setting->path.' has no bound.');
                    } catch (InvalidChange $e) {
                        self::assertStringStartsWith($setting->path.' must be a ', $e->getMessage());
                    }
                }
            }
            $json = BeatCodec::encode(RandomBeats::changed($beat, array_map(static fn (string $path, mixed $value): array => ['type' => 'set', $path => $value], array_keys($set), $set)));
            $again = BeatCodec::decode($json);
            self::assertSame($json, BeatCodec::encode($again));
            foreach ($values as $path => $value) {
                self::assertEquals($value, Parameters::at($again, $path)->value, $path);
            }
        }
    }

    /** Twice the tempo with the notes moved along sounds as before, and back again it is what it was but for its swing, which is written in. */
    public function testTempoIsDoubledWithOrWithoutTheNotes(): void
    {
        $samples = new RandomBeats(Sounds::folder());
        $sounds = new PadSounds(new SampleLibrary($samples->folder), Beat::SAMPLE_RATE);
        foreach ([$samples->beat(5), RandomBeats::changed($samples->parts(2), [['type' => 'set-movement', 'path' => 'mixer/c1/gainDb', 'points' => [[0, -20], [9000, 0]]]])] as $beat) {
            $beat = RandomBeats::changed($beat, [['type' => 'set-tempo', 'bpm' => 120], ...array_map(static fn (string $id): array => ['type' => 'set-feel', 'patterns' => [$id], 'swing' => 50], array_keys($beat->patterns))]);
            // What chance and the step bring hangs on where a hit is written.
            $beat = RandomBeats::changed($beat, [['type' => 'set-pad', 'pad' => 'a1', 'answer' => 'turn'], ...isset($beat->parts['part-3']) ? [['type' => 'set-sound', 'part' => 'part-3', 'at' => 1, 'routes' => []]] : []]);
            $beat = $beat->with(['patterns' => array_map(static fn (Pattern $p): Pattern => $p->withHits(array_map(static fn (Hit $h): Hit => new Hit($h->tick, $h->pad, $h->velocity, $h->length), $p->hits))->withNotes(array_map(static fn (Note $n): Note => new Note($n->tick, $n->pitch, $n->velocity, $n->length), $p->notes)), $beat->patterns)]);
            $print = self::print(Plan::song($beat, Passage::song($beat), $sounds), $sounds);
            $doubled = RandomBeats::changed($beat, [['type' => 'scale-time', 'factor' => 2]]);
            self::assertSame($print, self::print(Plan::song($doubled, Passage::song($doubled), $sounds), $sounds));
            self::assertSame([240.0, 2 * $beat->pattern('p1')->ticks], [$doubled->tempo->bpm, $doubled->pattern('p1')->ticks]);
            self::assertEquals($beat, RandomBeats::changed($doubled, [['type' => 'scale-time', 'factor' => 0.5]]));
            self::assertSame(240.0, RandomBeats::changed($beat, [['type' => 'set-tempo', 'bpm' => 240]])->tempo->bpm);
        }
        $this->expectExceptionMessage('The tempo would be 480 BPM; it lies between 30 and 300.');
        Changes::read(['type' => 'scale-time', 'factor' => 2])->apply($doubled);
    }

    public function testHitsFindTheirSoundsInAnotherKit(): void
    {
        $beat = RandomBeats::changed(Beat::empty('Kits'), [
            self::fill('a0', 'Low', 'kick'), self::fill('a1', 'Crack', 'snare'), self::fill('a2', 'Ring', 'cymbal'), self::fill('a5', 'Hum', 'voice'),
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 100], [240, 'a1', 90], [480, 'a2', 80], [720, 'a5', 70]]],
            ['type' => 'add-part', 'id' => 'part-2', 'name' => 'Other'],
            self::fill('b0', 'Thump', 'kick'), self::fill('b2', 'Snap', 'snare'), self::fill('b5', 'Leaf', 'tonal'),
            ['type' => 'exchange-kit', 'part' => 'part-1', 'from' => 'part-2'],
        ]);
        // By place and role, by role; and what finds none is kept where no sound lies.
        self::assertSame(['a0 Thump', 'a2 Snap', 'a1 ', 'a3 '], array_map(static fn (Hit $h): string => $h->pad.' '.$beat->kit->pad($h->pad)?->name, $beat->pattern('p1')->hits));
        self::assertSame(['a0', 'a2', 'a5', 'b0', 'b2', 'b5'], array_map(strval(...), array_keys($beat->kit->pads)));
        self::assertCount(6, array_unique(array_column($beat->kit->pads, 'channel')));
        $lost = RandomBeats::changed($beat, [['type' => 'clear-pad', 'pad' => 'b5'], ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[960, 'a0', 60]]], ['type' => 'exchange-kit', 'part' => 'part-1', 'from' => 'part-2']]);
        self::assertSame('a3', $lost->pattern('p1')->hits[3]->pad);
        self::assertNull($lost->kit->pad('a3'));
        $found = RandomBeats::changed($lost, [['type' => 'move-hits', 'from' => 'a3', 'to' => 'a0']]);
        self::assertSame(['a0', 'a2', 'a1', 'a0', 'a0'], array_column($found->pattern('p1')->hits, 'pad'));
    }

    /** Whoever reads it with what was read before gets the same beat, whatever its patterns are called, and a changed pattern anew. */
    public function testPatternsThatAreKnownAreNotReadAgain(): void
    {
        $beat = RandomBeats::changed((new RandomBeats(Sounds::folder()))->parts(2), [
            ['type' => 'set-pattern', 'pattern' => 'p1', 'name' => 'Odd "name" \\ {[}] \\"'],
            ['type' => 'rename-beat', 'name' => '"patterns":[{'],
        ]);
        $known = new KnownPatterns();
        $json = BeatCodec::encode($beat);
        self::assertEquals($beat, $first = BeatCodec::decode($json, $known));
        self::assertSame($first->patterns, BeatCodec::decode($json, $known)->patterns);
        $moved = RandomBeats::changed($beat, [['type' => 'set', 'pattern/p1/feel/swing' => 61]]);
        $second = BeatCodec::decode(BeatCodec::encode($moved), $known);
        self::assertEquals($moved, $second);
        self::assertSame(\array_slice($first->patterns, 1), \array_slice($second->patterns, 1));
        self::assertNotSame($first->patterns['p1'], $second->patterns['p1']);
        // Large ones are let go: what is remembered has a bound.
        $forgotten = new KnownPatterns();
        $read = 0;
        for ($round = 0; $round < 2; ++$round) {
            for ($i = 0; $i < 8; ++$i) {
                $forgotten->of(str_repeat((string) $i, 1_000_000), static function () use ($first, &$read): Pattern {
                    ++$read;

                    return $first->pattern('p1');
                });
            }
        }
        self::assertSame(16, $read);
        foreach (['{"format":9,"patterns":[{]}', '{"format":9,"patterns":3}', '{"format":9}'] as $broken) {
            try {
                BeatCodec::decode($broken, $known);
                self::fail($broken.' was read.');
            } catch (InvalidChange) {
                self::addToAssertionCount(1);
            }
        }
    }

    /** What circles would leave behind is looked for in all that is kept, while sound is waited for. */
    public function testReadingAndChangingABeatLeavesNoCirclesBehind(): void
    {
        $json = BeatCodec::encode((new RandomBeats(Sounds::folder()))->parts(1));
        gc_collect_cycles();
        for ($i = 0; $i < 5; ++$i) {
            RandomBeats::changed(BeatCodec::decode($json), [['type' => 'set', 'mixer/c1/gainDb' => -$i]]);
        }
        self::assertSame(0, gc_collect_cycles());
    }

    #[TestWith([5])]
    #[TestWith([6])]
    #[TestWith([7])]
    #[TestWith([8])]
    #[TestWith([9])]
    #[TestWith([10])]
    #[TestWith([11])]
    #[TestWith([12])]
    #[TestWith([13])]
    #[TestWith([14])]
    public function testOlderFormatsStayReadableAndSoundTheSame(int $format): void
    {
        /** @var list<array{beat: array<string, mixed>, song: string, loop: string}> $kept */
        $kept = json_decode((string) file_get_contents(\dirname(__DIR__, 2).'/fixtures/beats-format-'.$format.'.json'), true);
        $samples = new RandomBeats(Sounds::folder());
        $sounds = new PadSounds(new SampleLibrary($samples->folder), Beat::SAMPLE_RATE);
        foreach ($kept as ['beat' => $document, 'song' => $song, 'loop' => $loop]) {
            $beat = BeatCodec::decode(BeatCodec::json($document));
            self::assertSame($song, self::print(Plan::song($beat, Passage::song($beat), $sounds), $sounds));
            self::assertSame($loop, self::print(Plan::loop($beat, 's2', $sounds), $sounds));
            self::assertEquals($beat, BeatCodec::decode(BeatCodec::encode($beat)));
            self::assertSame($format < 11 ? SoundRules::First : SoundRules::NEWEST, $beat->rules);
            self::assertCount(\count((array) ($document['curves'] ?? $document['movements'] ?? [])), $beat->movements->all);
        }
        if (10 !== $format || !isset($beat, $loop)) {
            return;
        }
        // Only who wishes it hears what is done otherwise today.
        $today = RandomBeats::changed($beat, [['type' => 'set-rules', 'rules' => 2]]);
        self::assertNotSame($loop, self::print(Plan::loop($today, 's2', $sounds), $sounds));
        self::assertSame($loop, self::print(Plan::loop(RandomBeats::changed($today, [['type' => 'set-rules', 'rules' => 1]]), 's2', $sounds), $sounds));
    }

    /** @return array<string, string> section of every entry of the song */
    private static function sections(Beat $beat): array
    {
        return array_map(static fn (Entry $e): string => $e->section, $beat->song);
    }

    private static function print(Plan $plan, PadSounds $sounds): string
    {
        $hash = hash_init('sha256');
        foreach ((new Renderer($sounds, SegmentCache::none()))->stream($plan) as $moment) {
            hash_update($hash, $moment->mix->packed() ?: str_repeat("\0", 8 * $moment->segment->frames));
        }

        return hash_final($hash);
    }

    /** @return iterable<string, array{string, string}> */
    public static function broken(): iterable
    {
        yield 'no JSON' => ['{', 'the JSON cannot be read'];
        yield 'a later format' => ['{"format": 99}', 'This beat has format 99; this version of Pestle reads formats 1 to 15.'];
        yield 'no name' => ['{"format": 1, "patterns": [], "slices": [], "order": []}', 'name must be text of 1 to 80 characters.'];
        yield 'patterns missing' => ['{"format": 1}', 'patterns must be a list of at most 500 entries.'];
    }

    #[DataProvider('broken')]
    public function testABrokenDocumentIsRefusedByField(string $json, string $message): void
    {
        $this->expectException(InvalidChange::class);
        $this->expectExceptionMessage($message);
        BeatCodec::decode($json);
    }

    public function testChangesDoWhatTheySayAndNameIt(): void
    {
        $steps = [
            [['type' => 'rename-beat', 'name' => 'Tea'], 'Name of the beat', static fn (Beat $b): bool => 'Tea' === $b->name],
            [['type' => 'set-tempo', 'bpm' => '93', 'key' => 'F minor'], 'Tempo 93 BPM, key F minor', static fn (Beat $b): bool => 93.0 === $b->tempo->bpm && 'F minor' === $b->key?->name()],
            [['type' => 'set-tempo', 'bpm' => '92.5'], 'Tempo 92.5 BPM', static fn (Beat $b): bool => 92.5 === $b->tempo->bpm],
            [['type' => 'set-key', 'key' => 'Bb minor'], 'Key Bb minor', static fn (Beat $b): bool => 'Bb minor' === $b->key?->name()],
            [['type' => 'set-key', 'key' => ''], 'No key', static fn (Beat $b): bool => null === $b->key],
            [self::fill('a0', 'Low', 'kick'), 'Low on a pad', static fn (Beat $b): bool => 'drums' === $b->channel('c1')->output],
            [self::fill('a1', 'Leaf', 'tonal'), 'Leaf on a pad', static fn (Beat $b): bool => null === $b->channel('c2')->output],
            [['type' => 'set-pad', 'pad' => 'a1', 'tuneCents' => -300], 'Tune of Leaf', static fn (Beat $b): bool => -300 === $b->pad('a1')->tuneCents],
            [['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 120], [240, 'a1', 60, 480, 50]]], 'Place 2 sounds', static fn (Beat $b): bool => 2 === \count($b->pattern('p1')->hits)],
            [['type' => 'edit-hits', 'pattern' => 'p1', 'gesture' => 'velocity', 'hits' => [[0, 'a0', 90]]], 'Velocity of Low', static fn (Beat $b): bool => 90 === $b->pattern('p1')->hits[0]->velocity],
            [['type' => 'edit-hits', 'pattern' => 'p1', 'gesture' => 'move', 'take' => [[240, 'a1']], 'hits' => [[260, 'a1', 60]]], 'Move Leaf', static fn (Beat $b): bool => 260 === $b->pattern('p1')->hits[1]->tick],
            [['type' => 'set-feel', 'patterns' => ['p1'], 'swing' => 60], 'Swing 60 % of Pattern 1', static fn (Beat $b): bool => 60.0 === $b->pattern('p1')->feel->swing],
            [['type' => 'record-hits', 'pattern' => 'p1', 'quantise' => true, 'hits' => [[960 + 288, 'a0', 77]]], 'Recorded 1 hit', static fn (Beat $b): bool => 1200 === $b->pattern('p1')->hits[2]->tick],
            [['type' => 'reshape-pattern', 'pattern' => 'p1', 'how' => 'repeat-bar', 'bar' => 1], 'Bar 1 over the others', static fn (Beat $b): bool => 6 === \count($b->pattern('p1')->hits)],
            [['type' => 'reshape-pattern', 'pattern' => 'p1', 'how' => 'double'], 'Double length', static fn (Beat $b): bool => 4 * 3840 === $b->pattern('p1')->ticks && 12 === \count($b->pattern('p1')->hits)],
            [['type' => 'add-pattern', 'id' => 'p2', 'name' => 'Lift', 'copyOf' => 'p1'], 'Duplicate Pattern 1', static fn (Beat $b): bool => 12 === \count($b->pattern('p2')->hits)],
            [['type' => 'set-pattern', 'pattern' => 'p2', 'bars' => 1], 'Length 1 bar', static fn (Beat $b): bool => 3 === \count($b->pattern('p2')->hits)],
            [['type' => 'add-section', 'id' => 's2', 'name' => 'Lifted', 'copyOf' => 's1', 'linked' => 1], 'Linked copy of Section 1', static fn (Beat $b): bool => ['e1' => 's1', 'e2' => 's2'] === self::sections($b) && 'p1' === $b->section('s2')->patterns['part-1']],
            [['type' => 'set-cell', 'section' => 's2', 'part' => 'part-1', 'pattern' => 'p2'], 'Lift for Kit in Lifted', static fn (Beat $b): bool => 'p1' === $b->section('s1')->patterns['part-1'] && 3840 === $b->section('s2')->lengthTicks($b->patterns)],
            [['type' => 'set', 'song/e2/repeats' => 3], 'Repeats of Lifted', static fn (Beat $b): bool => [1, 3] === array_column(Passage::song($b), 'repeats')],
            [['type' => 'add-section', 'id' => 's3', 'name' => 'Own', 'copyOf' => 's2', 'after' => 1], 'Copy of Lifted', static fn (Beat $b): bool => ['e1' => 's1', 'e3' => 's3', 'e2' => 's2'] === self::sections($b) && 'p3' === $b->section('s3')->patterns['part-1'] && $b->pattern('p3')->hits === $b->pattern('p2')->hits],
            [['type' => 'set-song', 'sections' => ['s3', 's1', 's2', 's1']], 'Order of sections', static fn (Beat $b): bool => ['e3' => 's3', 'e1' => 's1', 'e2' => 's2', 'e4' => 's1'] === self::sections($b) && [3, 1] === [$b->entry('e2')->repeats, $b->entry('e4')->repeats]],
            [['type' => 'set-section', 'section' => 's3', 'bars' => 5], 'Length of Own', static fn (Beat $b): bool => 5 * 3840 === $b->section('s3')->lengthTicks($b->patterns)],
            [['type' => 'set-cell', 'section' => 's1', 'part' => 'part-1', 'mute' => 1], 'Mute Kit in Section 1', static fn (Beat $b): bool => 0 === $b->section('s1')->lengthTicks($b->patterns)],
            [['type' => 'add-part', 'id' => 'part-2', 'name' => 'Jar', 'sample' => self::HASH, 'start' => 0, 'end' => 1000, 'rootCents' => 3800, 'section' => 's2'], 'Jar on keys', static fn (Beat $b): bool => 'p4' === $b->section('s2')->patterns['part-2'] && 'Jar' === $b->channel($b->part('part-2')->keys->channel ?? '')->name],
            [['type' => 'set-keys', 'part' => 'part-2', 'single' => 1], 'One note at a time of Jar', static fn (Beat $b): bool => $b->part('part-2')->keys->single ?? false],
            [['type' => 'edit-notes', 'pattern' => 'p4', 'notes' => [[0, 38, 100, 960], [960, 41, 90, 480]]], 'Place 2 notes', static fn (Beat $b): bool => 2 === \count($b->pattern('p4')->notes)],
            [['type' => 'edit-notes', 'pattern' => 'p4', 'gesture' => 'transpose', 'take' => [[0, 38]], 'notes' => [[0, 50, 100, 960]]], 'Transpose a note', static fn (Beat $b): bool => [50, 41] === array_column($b->pattern('p4')->notes, 'pitch')],
            [['type' => 'copy-part', 'part' => 'part-1', 'id' => 'part-9'], 'Copy of Kit', static fn (Beat $b): bool => 'Low' === $b->pad('b0')->name && $b->pad('b0')->channel !== $b->pad('a0')->channel && 'b0' === $b->pattern('p5')->hits[0]->pad && 'part-9' === $b->pattern('p5')->part && [0, 3] === [\count($b->section('s1')->patterns) - 1, \count($b->parts)]],
            [['type' => 'remove-part', 'part' => 'part-9'], 'Delete Kit copy', static fn (Beat $b): bool => 1 === \count($b->kit->banks) && 3 === \count($b->mixer->of(NodeKind::Channel)) && !isset($b->patterns['p5'])],
            [['type' => 'set-part', 'part' => 'part-2', 'before' => 'part-1'], 'Move Jar', static fn (Beat $b): bool => ['part-2', 'part-1'] === array_keys($b->parts)],
            [['type' => 'set-part', 'part' => 'part-2', 'colour' => 'tide'], 'Colour of Jar', static fn (Beat $b): bool => 'tide' === $b->part('part-2')->colour],
            [['type' => 'set-meter', 'meter' => '6/8'], 'Meter 6/8', static fn (Beat $b): bool => 6 * 2880 === $b->pattern('p1')->ticks && 12 === \count($b->pattern('p1')->hits)],
            [['type' => 'set-meter', 'meter' => '4/4'], 'Meter 4/4', static fn (Beat $b): bool => 5 * 3840 === $b->pattern('p1')->ticks],
            [['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 4], 'Length 4 bars', static fn (Beat $b): bool => 4 * 3840 === $b->pattern('p1')->ticks],
            [['type' => 'remove-section', 'section' => 's1'], 'Delete Section 1', static fn (Beat $b): bool => ['e3' => 's3', 'e2' => 's2'] === self::sections($b)],
            [['type' => 'remove-part', 'part' => 'part-2'], 'Delete Jar', static fn (Beat $b): bool => !isset($b->patterns['p4'], $b->section('s2')->patterns['part-2']) && 2 === \count($b->mixer->of(NodeKind::Channel))],
            [['type' => 'swap-pads', 'pad' => 'a0', 'with' => 'a9'], 'Move Low', static fn (Beat $b): bool => null === $b->kit->pad('a0') && 'a9' === $b->pattern('p1')->hits[0]->pad],
            [['type' => 'set', 'under' => 'mixer/c1', 'mute' => 1], 'Mute of Low', static fn (Beat $b): bool => $b->channel('c1')->mute],
            [['type' => 'set', 'under' => 'mixer/c1/inserts/i1/bands/2', 'shape' => 'peak', 'hz' => 300, 'gainDb' => -3, 'q' => 1, 'on' => true], 'Shape of Low, band 2', static fn (Beat $b): bool => $b->channel('c1')->inserts[0]->acts()],
            [['type' => 'set', 'under' => 'mixer/master', 'ceilingDb' => -2], 'Ceiling of Master', static fn (Beat $b): bool => -2.0 === $b->mixer->master->ceilingDb],
            [['type' => 'set', 'under' => 'mixer/drums', 'gainDb' => -3], 'Level of Drums', static fn (Beat $b): bool => -3.0 === $b->channel('drums')->gainDb],
            [['type' => 'name-bank', 'bank' => 'b', 'name' => 'More'], 'New bank', static fn (Beat $b): bool => 2 === \count($b->kit->banks)],
            [['type' => 'set-slices', 'sample' => self::HASH, 'markers' => [500, 0, 500], 'how' => 'hits'], 'Slice at hits', static fn (Beat $b): bool => [0, 500] === $b->slices[self::HASH]->markers],
            [['type' => 'slices-to-pads', 'sample' => self::HASH, 'name' => 'Loop', 'frames' => 1000, 'rate' => 44100, 'role' => 'tonal', 'bars' => 2], 'Slices of Loop to pads', static fn (Beat $b): bool => 'Loop 2' === $b->pad('c1')->name && 3840 === $b->pattern('p4')->hits[1]->tick],
            [['type' => 'remove-pattern', 'pattern' => 'p2'], 'Delete Lift', static fn (Beat $b): bool => [] === $b->section('s2')->patterns],
            [['type' => 'clear-pad', 'pad' => 'a9'], 'Clear Low', static fn (Beat $b): bool => !isset($b->mixer->nodes['c1']) && 4 === \count($b->pattern('p1')->hits)],
        ];
        $beat = Beat::empty('New');
        foreach ($steps as [$data, $label, $holds]) {
            $change = Changes::read($data);
            self::assertSame($label, $change->label($beat));
            $before = BeatCodec::encode($beat);
            $after = $change->apply($beat);
            self::assertTrue($holds($after), $label);
            self::assertSame($before, BeatCodec::encode($beat), 'the beat before is untouched');
            self::assertEquals($after, $change->apply($beat), 'made twice, it is the same');
            self::assertNotEmpty($change->touches());
            $beat = $after;
        }
    }

    /** @return iterable<string, array{array<string, mixed>, string}> */
    public static function wrong(): iterable
    {
        yield 'no such change' => [['type' => 'explode'], 'type must be one of: rename-beat'];
        yield 'tempo' => [['type' => 'set-tempo', 'bpm' => 'fast'], 'bpm must be a number from 30 to 300.'];
        yield 'key' => [['type' => 'set-key', 'key' => 'Q minor'], '"Q minor" is not a key'];
        yield 'pad outside' => [self::fill('z9', 'X', 'kick'), 'pad must be a place in one of the banks.'];
        yield 'role' => [self::fill('a0', 'X', 'banjo'), 'role must be one of: kick, snare'];
        yield 'empty pad' => [['type' => 'set-pad', 'pad' => 'a5', 'pan' => 0], 'This pad holds no sound any more.'];
        yield 'end before start' => [['type' => 'set-layer', 'pad' => 'a0', 'end' => 0], 'the end of its sound must lie after its start'];
        yield 'hit beyond the end' => [['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[99999, 'a0', 100]]], 'A hit lies beyond the end of Pattern 1.'];
        yield 'velocity' => [['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 128]]], '2 must be a whole number from 1 to 127.'];
        yield 'no pattern' => [['type' => 'set-pattern', 'pattern' => 'p9', 'bars' => 1], 'This pattern is no longer in the beat.'];
        yield 'too many bars' => [['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 65], 'bars must be a whole number from 1 to 64.'];
        yield 'the last section' => [['type' => 'remove-section', 'section' => 's1'], 'A beat keeps at least one section.'];
        yield 'the last part' => [['type' => 'remove-part', 'part' => 'part-1'], 'A beat keeps at least one part.'];
        yield 'no such meter' => [['type' => 'set-meter', 'meter' => '5/3'], 'as in 4/4, 6/8 or 7/16'];
        yield 'notes for a kit' => [['type' => 'edit-notes', 'pattern' => 'p1', 'notes' => [[0, 60, 100]]], 'Pattern 1 belongs to a kit'];
        yield 'another part\'s pattern' => [['type' => 'set-cell', 'section' => 's1', 'part' => 'part-1', 'pattern' => 'p7'], 'This pattern is no longer in the beat.'];
        yield 'a song of nothing there' => [['type' => 'set-song', 'sections' => ['s1', 's9']], 'This section is no longer in the beat.'];
        yield 'unsliced' => [['type' => 'slices-to-pads', 'sample' => self::HASH, 'name' => 'X', 'frames' => 9, 'rate' => 44100, 'role' => 'tonal'], 'There are no slices yet'];
        yield 'ratio' => [['type' => 'set', 'under' => 'mixer/c1/inserts/i2', 'on' => 1, 'thresholdDb' => 0, 'ratio' => 0.5, 'attackMs' => 1, 'releaseMs' => 9, 'makeupDb' => 0], 'mixer/c1/inserts/i2/ratio must be a number from 1 to 20.'];
        yield 'no channel' => [['type' => 'set', 'under' => 'mixer/c9', 'pan' => 0], 'mixer/c9/pan is no parameter of this beat.'];
        yield 'control characters' => [['type' => 'rename-beat', 'name' => "a\nb"], 'name must be text of 1 to 80 characters.'];
        yield 'a list for a number' => [['type' => 'set-tempo', 'bpm' => [90]], 'bpm must be a number'];
    }

    /** @param array<string, mixed> $data */
    #[DataProvider('wrong')]
    public function testWhatDoesNotFitIsRefusedByField(array $data, string $message): void
    {
        $beat = Changes::read(self::fill('a0', 'Low', 'kick'))->apply(Beat::empty('New'));
        $this->expectException(InvalidChange::class);
        $this->expectExceptionMessage($message);
        Changes::apply(Changes::read($data), $beat);
    }

    public function testChangesCollideOnlyWhereTheyTouch(): void
    {
        self::assertTrue(Changes::collide(['pattern/p1/a0'], ['kit', 'pattern/p1']));
        self::assertTrue(Changes::collide(['kit'], ['kit/a3']));
        self::assertFalse(Changes::collide(['pattern/p1/a0'], ['pattern/p1/a01', 'pattern/p2', 'mixer']));
        self::assertFalse(Changes::collide(['mixer/c1/pan'], ['mixer/c1/gainDb']));
    }

    /** @return array<string, mixed> */
    private static function fill(string $pad, string $name, string $role): array
    {
        return ['type' => 'fill-pad', 'pad' => $pad, 'sample' => self::HASH, 'name' => $name, 'role' => $role, 'start' => 0, 'end' => 1000];
    }
}
