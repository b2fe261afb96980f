<?php

namespace Pestle\Tests\Core\Exchange;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Exchange\LeadSheet;
use Pestle\Core\Song\Entry;
use Pestle\Core\Theory\Chord;
use Pestle\Core\Theory\ChordName;
use Pestle\Tests\Core\Render\RandomBeats;
use PHPUnit\Framework\TestCase;

/** A song on paper: chords are named as they are built, and every section stands where it begins. */
final class LeadSheetTest extends TestCase
{
    public function testEveryChordIsNamedAsItIsBuilt(): void
    {
        $roots = ['C', 'C#', 'D', 'D#', 'E', 'F', 'F#', 'G', 'G#', 'A', 'A#', 'B'];
        foreach (Chord::cases() as $chord) {
            foreach ($roots as $root => $name) {
                $weights = array_fill_keys(array_map(static fn (int $s): int => ($root + $s) % 12, $chord->semitones()), 300.0);
                $expected = $name.(['major' => '', 'minor' => 'm', 'diminished' => 'dim', 'augmented' => 'aug'][$chord->value] ?? $chord->value);
                self::assertSame($expected, ChordName::of($weights, $root));
                // A note that passes by makes no other chord of it.
                $passing = ($root + 1) % 12;
                self::assertSame($expected, ChordName::of($weights + [$passing => 10.0], $root));
            }
        }
        self::assertSame(['C/E', 'Bb', '(A)', ''], [ChordName::of([0 => 1.0, 4 => 1.0, 7 => 1.0], 4), ChordName::of([10 => 1.0, 2 => 1.0, 5 => 1.0], 10, true), ChordName::of([9 => 0.5], 9), ChordName::of([], null)]);
    }

    public function testASongIsWrittenDown(): void
    {
        $beat = RandomBeats::changed(Beat::empty('Tin roof'), [['type' => 'set-tempo', 'bpm' => 120], ['type' => 'set-key', 'key' => 'D minor'], ['type' => 'add-part', 'id' => 'part-2', 'name' => 'Jar', 'shelf' => 'night-tram', 'section' => 's1']]);
        self::assertStringContainsString('The song has no sections yet.', LeadSheet::of($beat->with(['song' => []])));
        $pattern = $beat->section('s1')->patterns['part-2'];
        $beat = RandomBeats::changed($beat, [
            ['type' => 'set-pattern', 'pattern' => $pattern, 'bars' => 2],
            // A chord one of whose notes rings over into the next bar, where another begins.
            ['type' => 'edit-notes', 'pattern' => $pattern, 'notes' => [[0, 50, 90, 4000], [0, 53, 90, 3840], [0, 57, 90, 3840], [3840, 46, 90, 3840], [3840, 53, 90, 3840], [3840, 62, 90, 3840]]],
            ['type' => 'set-song', 'entries' => [['e1', 's1'], ['e2', 's1']]],
        ]);
        $beat = $beat->with(['song' => ['e1' => $beat->entry('e1')->with(['repeats' => 2]), 'e2' => new Entry('e2', 's1', 1, ['part-2'])]]);
        $name = $beat->section('s1')->name;
        $expected = "Tin roof\n120 BPM, D minor, 4/4, 0:12\n\n"
            .\sprintf("1  %s, 2 bars, 2 times%s0:00\n   | Dm | Bb |\n   Jar\n\n", $name, str_repeat(' ', 56 - mb_strlen("1  $name, 2 bars, 2 times")))
            .\sprintf("5  %s, 2 bars%s0:08\n   nobody plays; silent: Jar\n", $name, str_repeat(' ', 56 - mb_strlen("5  $name, 2 bars")));
        self::assertSame($expected, LeadSheet::of($beat));
    }
}
