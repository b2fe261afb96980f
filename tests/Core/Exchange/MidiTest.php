<?php

namespace Pestle\Tests\Core\Exchange;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Exchange\Midi\DrumKeys;
use Pestle\Core\Exchange\Midi\MidiFile;
use Pestle\Core\Exchange\Midi\MidiLanding;
use Pestle\Core\Exchange\Midi\MidiNote;
use Pestle\Core\Exchange\Midi\MidiWriter;
use Pestle\Core\Exchange\Midi\UnreadableMidi;
use Pestle\Core\Kit\Role;
use Pestle\Core\Pattern\Groove;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Note;
use Pestle\Tests\Core\Render\RandomBeats;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Standard MIDI Files in and out; an independent reader looks at ours in the application's tests. */
final class MidiTest extends TestCase
{
    public function testAPatternGoesOutAndComesBackExactly(): void
    {
        $beat = self::beat();
        $file = MidiFile::read(MidiWriter::of($beat, 's1'), 'ours.mid');
        self::assertEqualsWithDelta(117.5, $file->tempi[0][1], 1e-3);
        self::assertSame([[0, 7, 8]], $file->meters);
        self::assertSame(['Kit', 'Jar'], array_column($file->tracks, 'name'));
        self::assertSame([MidiFile::PERCUSSION, 0], array_column($file->tracks, 'channel'));
        self::assertSame([[0, 36, 127, 240], [0, 42, 1, 60], [119, 38, 64, 480], [3359, 38, 100, 240]], array_map(static fn (MidiNote $n): array => [$n->tick, $n->pitch, $n->velocity, $n->length], $file->tracks[0]['notes']));
        self::assertSame([[7, 60, 90, 1000], [7, 67, 80, 1], [1007, 60, 70, 240]], array_map(static fn (MidiNote $n): array => [$n->tick, $n->pitch, $n->velocity, $n->length], $file->tracks[1]['notes']));
        [$change, $told] = MidiLanding::of($file, $beat, true);
        self::assertSame(['programs'], $told);
        self::assertNotNull($change);
        $back = Changes::read($change)->apply($beat);
        $section = $back->section('s2');
        self::assertEquals($beat->pattern('p1')->hits, $back->pattern($section->patterns['part-1'])->hits);
        self::assertEquals($beat->pattern('p2')->notes, $back->pattern($section->patterns['part-2'])->notes);
        self::assertSame(['s1', 's2'], array_column($back->song, 'section'));
        self::assertSame('ours.mid brought in', Changes::read($change)->label($back));
    }

    /** What is heard is what goes out: feel, several strikes, lanes that go round, repeats of sections. */
    public function testAGrooveIsTakenFromWhatAFilePlays(): void
    {
        $beat = RandomBeats::changed(Beat::empty('Late'), [['type' => 'set-tempo', 'bpm' => 100], ['type' => 'fill-pad', 'pad' => 'a0', 'sample' => str_repeat('a', 64), 'name' => 'Tick', 'role' => 'hat', 'start' => 0, 'end' => 900], ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => array_map(static fn (int $i): array => [240 * $i + (0 === $i % 2 ? 0 : 40), 'a0', 0 === $i % 2 ? 110 : 55], range(0, 31))]]);
        [$ticks, $played] = MidiFile::read(MidiWriter::of($beat, 's1'), 'late.mid')->played(16);
        self::assertSame([7680, 32], [$ticks, \count($played)]);
        $groove = Groove::taken('g1', 'Late', 240, $ticks, $played);
        foreach ([0, 240, 480, 7440] as $tick) {
            [$later, $louder] = $groove->at($tick);
            self::assertEqualsWithDelta(0 === $tick % 480 ? 0.0 : 40.0, $later, 0.01);
            self::assertEqualsWithDelta(0 === $tick % 480 ? 110 / 82.5 : 55 / 82.5, $louder, 0.002);
        }
        self::assertSame([3840, 16], [MidiFile::read(MidiWriter::of($beat, 's1'), 'late.mid')->played(1)[0], \count(MidiFile::read(MidiWriter::of($beat, 's1'), 'late.mid')->played(1)[1])]);
    }

    public function testTheSongGoesOutAsItIsHeard(): void
    {
        $beat = RandomBeats::changed(self::beat(), [
            ['type' => 'set-feel', 'patterns' => ['p1'], 'shiftTicks' => 30, 'swing' => 60],
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[480, 'a2', 90, 240, 100, 0, 0, '', 2]]],
            ['type' => 'set', 'song/e1/repeats' => 2],
        ]);
        $ticks = $beat->pattern('p1')->ticks;
        $drums = MidiFile::read(MidiWriter::of($beat), 'song.mid')->tracks[0]['notes'];
        $hats = array_map(static fn (MidiNote $n): int => $n->tick, array_values(array_filter($drums, static fn (MidiNote $n): bool => 42 === $n->pitch)));
        self::assertSame([30, 510, 630, $ticks + 30, $ticks + 510, $ticks + 630], $hats);
        foreach ((new RandomBeats(Sounds::folder()))->felt(1)->sections as $section) {
            self::assertStringStartsWith('MThd', MidiWriter::of((new RandomBeats(Sounds::folder()))->felt(1), $section->id));
        }
    }

    public function testOtherPeoplesFilesOfEitherTypeAreRead(): void
    {
        // Type 0, 96 ticks a quarter, running status, notes let go by velocity 0, one never, a system message, two channels.
        $track = "\x00\xFF\x03\x05Bongo\x00\xFF\x51\x03\x07\xA1\x20\x00\xFF\x58\x04\x03\x02\x18\x08\x00\xF0\x03\x01\x02\xF7\x00\x99\x24\x64\x18\x24\x00\x00\x26\x50\x18\x26\x00\x00\xC1\x05\x00\x91\x3C\x40\x60\x81\x3C\x00\x00\x91\x40\x40\x60\xFF\x2F\x00";
        $file = MidiFile::read(self::midi(0, 96, $track), 'other.mid');
        self::assertSame([[0, 120.0]], $file->tempi);
        self::assertSame([[0, 3, 4]], $file->meters);
        self::assertSame([['Bongo', 1], ['Bongo', 9]], array_map(static fn (array $t): array => [$t['name'], $t['channel']], $file->tracks));
        self::assertEquals([new MidiNote(480, 1, 60, 64, 960), new MidiNote(1440, 1, 64, 64, 960)], $file->tracks[0]['notes']);
        self::assertEquals([new MidiNote(0, 9, 36, 100, 240), new MidiNote(240, 9, 38, 80, 240)], $file->tracks[1]['notes']);
        // Drums find pads by their roles; for a track nobody plays there is a sentence.
        [$change, $told] = MidiLanding::of($file, RandomBeats::changed(self::beat(), [['type' => 'remove-part', 'part' => 'part-2']]), false);
        self::assertNotNull($change);
        self::assertSame(['programs', 'Bongo: there is no instrument left for it; add one in Kit'], $told);
        self::assertArrayNotHasKey('bpm', $change);
    }

    public function testKeysFindPadsByTheirRoles(): void
    {
        $pads = array_values(self::beat()->kit->pads);
        self::assertSame(['a0' => 36, 'a1' => 38, 'a2' => 42], DrumKeys::of($pads));
        self::assertEquals([36 => 'a0', 38 => 'a1', 42 => 'a2', 35 => 'a0', 40 => 'a1', 46 => 'a2'], DrumKeys::onto([36, 35, 38, 40, 42, 46], $pads), 'what is missing is played by what comes near');
        self::assertSame([], DrumKeys::onto([36], []));
        self::assertSame([Role::Tom, Role::Cymbal, Role::Percussion], [DrumKeys::role(45), DrumKeys::role(51), DrumKeys::role(99)]);
    }

    /** Slices and other sounds on pads are tracks of their own by their names; a last note that rings on adds no bar; equal notes do not end one another. */
    public function testSoundsThatAreNoDrumsComeBackToTheirPads(): void
    {
        $pad = static fn (string $id, string $role, string $name): array => ['type' => 'fill-pad', 'pad' => $id, 'sample' => str_repeat('a', 64), 'name' => $name, 'role' => $role, 'start' => 0, 'end' => 900];
        $slices = array_map(static fn (int $i): array => $pad('a'.$i, 'tonal', 'Loop '.($i + 1)), range(0, 8));
        $beat = RandomBeats::changed(Beat::empty('Slices'), [...$slices, $pad('a9', 'kick', 'Knock'), $pad('a10', 'snare', 'Crack'), $pad('a11', 'snare', 'Slap'), ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 4], ['type' => 'set-key', 'key' => 'Eb minor']]);
        $hits = array_map(static fn (int $i): Hit => new Hit(900 * $i, 'a'.$i, 100, 1200), range(0, 8));
        $hits = [...$hits, new Hit(9600, 'a3', 90, 700), new Hit(9900, 'a3', 90, 700), new Hit(15000, 'a9', 80, 406), new Hit(15100, 'a10', 80), new Hit(15200, 'a11', 80)];
        $beat = $beat->withPattern($beat->pattern('p1')->withHits($hits));
        $file = MidiFile::read(MidiWriter::of($beat, 's1'), 'slices.mid');
        self::assertSame(['Kit', ...array_map(static fn (int $i): string => 'Loop '.$i, range(1, 9))], array_column($file->tracks, 'name'));
        self::assertCount(10, array_unique(array_column($file->tracks, 'channel')));
        self::assertSame(['Eb minor', [[0, 'Section 1']]], [$file->key?->name(), $file->markers]);
        self::assertSame([1200, 300, 700], array_column($file->tracks[4]['notes'], 'length'));
        [$change] = MidiLanding::of($file, $beat, false);
        $back = Changes::apply(Changes::read($change ?? self::fail('Nothing.')), $beat);
        $pattern = $back->pattern('p2');
        self::assertSame(4 * 3840, $pattern->ticks);
        $places = static fn (Hit ...$all): array => array_map(static fn (Hit $h): array => [$h->tick, $h->pad, $h->velocity], $all);
        self::assertSame($places(...$hits), $places(...$pattern->hits));
    }

    public function testWhatIsWrittenIsNotWhatIsHeard(): void
    {
        $beat = RandomBeats::changed(self::beat(), [['type' => 'set-feel', 'patterns' => ['p1'], 'shiftTicks' => 30, 'swing' => 60], ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[1000, 'a0', 90, 240, 1]]]]);
        $ticks = static fn (bool $written): array => array_column(MidiFile::read(MidiWriter::of($beat, 's1', $written), 'x.mid')->tracks[0]['notes'], 'tick');
        self::assertSame([0, 0, 119, 1000, 3359], $ticks(true));
        self::assertSame([30, 30, 173], \array_slice($ticks(false), 0, 3));
        self::assertNotContains(1030, $ticks(false));
    }

    /** The pedal holds, markers name sections, a pickup is no bar, three quarters stay three, what comes first at bar three does not hold from bar one. */
    public function testWhatElseAFileSaysIsKeptOrTold(): void
    {
        $on = static fn (string $delta, int $key): string => $delta."\x90".\chr($key)."\x50".\chr(60)."\x80".\chr($key)."\x00";
        $track = "\x00\xFF\x58\x04\x01\x02\x18\x08\x60\xFF\x58\x04\x03\x02\x18\x08\x00\xFF\x06\x05Verse\x00\xB0\x40\x7F".$on("\x00", 60).$on("\x00", 60)."\x60\xB0\x40\x00\x82\x68\xFF\x06\x05Hook!\x00\xE0\x00\x50\x00\xB0\x07\x60\x00\xFF\x51\x03\x07\xA1\x20".$on("\x00", 64)."\x00\xFF\x2F\x00";
        $file = MidiFile::read(self::midi(0, 96, $track), 'said.mid');
        // Struck again, the first is over; the second sounds until the pedal is up.
        self::assertSame([[960, 600], [1560, 1560]], array_map(static fn (MidiNote $n): array => [$n->tick, $n->length], \array_slice($file->tracks[0]['notes'], 0, 2)));
        self::assertSame(['pitch bend', 'volume'], $file->lost);
        [$change, $told] = MidiLanding::of($file, self::beat(), true);
        self::assertSame(['pitch bend', 'volume'], $told);
        self::assertSame([120.0, '3/4'], [$change['bpm'] ?? 0, $change['meter'] ?? '']);
        $back = Changes::apply(Changes::read($change ?? []), self::beat());
        self::assertSame(['Section 1', 'Verse', 'Hook!'], array_values(array_map(static fn ($s): string => $s->name, $back->sections)));
        // Without its meter and tempo the sections have it.
        [$change] = MidiLanding::of($file, self::beat(), false);
        $kept = Changes::apply(Changes::read($change ?? []), self::beat());
        self::assertSame(['7/8', '3/4'], [$kept->meter->name(), array_values($kept->sections)[1]->meter?->name()]);
        self::assertSame([0, 600], array_column($kept->pattern($kept->section('s2')->patterns['part-2'])->notes, 'tick'));
    }

    public function testFilesInRiffAndInFilmTimeAreRead(): void
    {
        $good = "\x00\x90\x3C\x40\x78\x80\x3C\x00\x00\xFF\x2F\x00";
        $midi = self::midi(0, 96, $good);
        $riff = 'RIFF'.pack('V', 12 + 4 + \strlen($midi)).'RMIDINFO'.pack('V', 3)."abc\0data".pack('V', \strlen($midi)).$midi;
        self::assertEquals(MidiFile::read($midi, 'a.mid')->tracks, MidiFile::read($riff, 'a.mid')->tracks);
        // 25 frames of 40 ticks: 120 of them are 120 ms, at 120 BPM 230.4 ticks of 960.
        $film = MidiFile::read(self::midi(0, 0xE728, $good), 'film.mid');
        self::assertSame(230, $film->tracks[0]['notes'][0]->length);
        self::assertStringContainsString('frames of film', $film->lost[0]);
    }

    /** What is longer or fuller than a pattern becomes several, that follow one another; nothing is lost. */
    public function testLongAndFullFilesBecomeSeveralPatterns(): void
    {
        $track = '';
        for ($i = 0; $i < 45_000; ++$i) {
            $track .= "\x02\x90".\chr(40 + $i % 40)."\x40\x01\x80".\chr(40 + $i % 40)."\x00";
        }
        $file = MidiFile::read(self::midi(0, 96, $track."\x00\xFF\x2F\x00"), 'full.mid');
        $beat = RandomBeats::changed(self::beat(), [['type' => 'set-meter', 'meter' => '4/4']]);
        [$change, $told] = MidiLanding::of($file, $beat, false);
        self::assertSame([], $told);
        $back = Changes::apply(Changes::read($change ?? []), $beat);
        $notes = 0;
        foreach (\array_slice(array_column($back->song, 'section'), 1) as $id) {
            $notes += \count($back->pattern($back->section($id)->patterns['part-2'])->notes);
        }
        self::assertSame(45_000, $notes);
        self::assertGreaterThan(3, \count($back->song));
    }

    /** @return iterable<string, array{string, string}> */
    public static function hostile(): iterable
    {
        $good = "\x00\x90\x3C\x40\x60\x80\x3C\x00\x00\xFF\x2F\x00";
        yield 'nothing' => ['', 'no Standard MIDI File'];
        yield 'something else' => ['RIFF....WAVEfmt ', 'no Standard MIDI File'];
        yield 'type 2' => [self::midi(2, 96, $good), 'of type 2'];
        yield 'frames of film without ticks' => [self::midi(0, 0xE700, $good), 'no ticks to a frame'];
        yield 'no ticks' => [self::midi(0, 0, $good), 'no ticks to a quarter'];
        yield 'no notes' => [self::midi(0, 96, "\x00\xFF\x2F\x00"), 'holds no notes'];
        yield 'a track that goes on beyond its end' => [substr(self::midi(0, 96, $good), 0, -4), 'cut short'];
        yield 'an event without an end' => [self::midi(0, 96, "\x00\x90\x3C"), 'damaged'];
        yield 'a status that was never given' => [self::midi(0, 96, "\x00\x3C\x40"), 'damaged'];
        yield 'a number without an end' => [self::midi(0, 96, "\xFF\xFF\xFF\xFF\xFF\xFF"), 'damaged'];
        yield 'text of 200 MB' => [self::midi(0, 96, "\x00\xFF\x01\xFF\xFF\xFF\x7Fx"), 'damaged'];
        yield 'a pause of days' => [self::midi(0, 1, "\xFF\xFF\xFF\x7F\x90\x3C\x40"), 'lasts for days'];
    }

    #[DataProvider('hostile')]
    public function testWhatIsNoMidiFileIsRefusedWithASentence(string $bytes, string $message): void
    {
        $this->expectException(UnreadableMidi::class);
        $this->expectExceptionMessage($message);
        MidiFile::read($bytes, 'x.mid');
    }

    /** Bytes changed by chance are read or refused, and never anything else. */
    public function testDamagedFilesAreReadOrRefused(): void
    {
        $bytes = MidiWriter::of(self::beat(), 's1');
        $refused = 0;
        for ($seed = 1; $seed <= 400; ++$seed) {
            mt_srand($seed);
            $damaged = $bytes;
            for ($n = mt_rand(1, 4); $n > 0; --$n) {
                $damaged[mt_rand(0, \strlen($bytes) - 1)] = \chr(mt_rand(0, 255));
            }
            try {
                [$change] = MidiLanding::of(MidiFile::read($damaged, 'x.mid'), self::beat(), true);
                if (null !== $change) {
                    Changes::read($change)->apply(self::beat());
                }
            } catch (UnreadableMidi $e) {
                self::assertStringStartsWith('x.mid ', $e->getMessage());
                ++$refused;
            }
        }
        self::assertGreaterThan(50, $refused);
        self::assertLessThan(390, $refused);
    }

    private static function midi(int $type, int $division, string $track): string
    {
        return 'MThd'.pack('Nnnn', 6, $type, 1, $division).'MTrk'.pack('N', \strlen($track)).$track;
    }

    /** As many notes on as there are, then all off: looked through once, and given up as soon as there are too many. */
    public function testNotesThatAllSoundAtOnceAreReadInOneGo(): void
    {
        $track = static fn (int $notes): string => str_repeat("\x00\x90\x3c\x40", $notes).str_repeat("\x01\x80\x3c\x40", $notes);
        $file = static fn (string $track): string => 'MThd'.pack('Nnnn', 6, 1, 1, 960).'MTrk'.pack('N', \strlen($track)).$track;
        $notes = MidiFile::read($file($track(90_000)), 'many.mid')->tracks[0]['notes'];
        // Who began first is let go first.
        self::assertSame([90_000, 1, 90_000], [\count($notes), $notes[0]->length, $notes[89_999]->length]);
        memory_reset_peak_usage();
        $before = memory_get_usage();
        try {
            MidiFile::read($bytes = $file($track(900_000)), 'many.mid');
            self::fail('So many are too many.');
        } catch (UnreadableMidi $e) {
            self::assertStringContainsString('more than 200,000 notes', $e->getMessage());
        }
        self::assertLessThan(70_000_000, memory_get_peak_usage() - $before);
    }

    private static function beat(): Beat
    {
        $pad = static fn (string $id, string $role): array => ['type' => 'fill-pad', 'pad' => $id, 'sample' => str_repeat('a', 64), 'name' => ucfirst($role), 'role' => $role, 'start' => 0, 'end' => 900];

        $beat = RandomBeats::changed(Beat::empty('Out and in'), [
            ['type' => 'set-tempo', 'bpm' => 117.5], ['type' => 'set-meter', 'meter' => '7/8'], ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 1],
            $pad('a0', 'kick'), $pad('a1', 'snare'), $pad('a2', 'hat'),
            ['type' => 'add-part', 'id' => 'part-2', 'name' => 'Jar', 'sample' => str_repeat('a', 64), 'start' => 0, 'end' => 900, 'rootCents' => 6000, 'section' => 's1'],
        ]);
        $hits = [new Hit(0, 'a0', 127, 240), new Hit(0, 'a2', 1, 60), new Hit(119, 'a1', 64, 480), new Hit(3359, 'a1', 100, 240)];
        $notes = [new Note(7, 60, 90, 1000), new Note(7, 67, 80, 1), new Note(1007, 60, 70, 240)];

        return $beat->withPattern($beat->pattern('p1')->withHits($hits))->withPattern($beat->pattern('p2')->withNotes($notes));
    }
}
