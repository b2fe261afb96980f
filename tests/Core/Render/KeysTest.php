<?php

namespace Pestle\Tests\Core\Render;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\Renderer;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;
use Pestle\Core\Song\Entry;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

/** A tone of 220 Hz played on keys: pitch, lengths, who cuts whom, and glide. */
final class KeysTest extends TestCase
{
    private string $folder;

    protected function setUp(): void
    {
        $this->folder = Sounds::folder();
    }

    public function testNotesHaveTheirPitchAndLengthAndDieAway(): void
    {
        // A semitone is a semitone from the bottom to the top, whatever the root is off by.
        foreach ([[57, 5700, 220.0], [69, 5700, 440.0], [45, 5700, 110.0], [58, 5730, 220.0 * 2 ** (0.7 / 12)]] as [$pitch, $root, $hz]) {
            $sound = $this->played([[0, $pitch, 127, 1920]], ['rootCents' => $root, 'amp/releaseMs' => 100]);
            self::assertEqualsWithDelta($hz, self::hertz(\array_slice($sound, 4000, 20000)), 0.15 * $hz / 100);
            // Held for a second at 120 BPM, then the release.
            self::assertGreaterThan(0.35, self::top(\array_slice($sound, 43000, 1000)));
            self::assertEqualsWithDelta(0.25, self::top(\array_slice($sound, 44100 + 2000, 450)), 0.06, 'half way down the release');
            self::assertSame(0.0, self::top(\array_slice($sound, 44100 + 4411, 1000)));
        }
        $toItsEnd = $this->played([[0, 57, 127, 100]], ['held' => 0]);
        self::assertGreaterThan(0.35, self::top(\array_slice($toItsEnd, 80000, 1000)));
        self::assertSame(0.0, self::top($this->played([[0, 20, 127, 960]], ['low' => 40])), 'out of its range');
    }

    public function testNotesLastAlikeWhereThatIsWished(): void
    {
        $plain = self::soundsFor($this->played([[0, 57, 127, 100]], ['held' => 0]));
        foreach ([[69, 440.0, 0.5], [45, 110.0, 2.0], [76, 659.26, 1 / 3]] as [$pitch, $hz, $tuned]) {
            $even = $this->played([[0, $pitch, 127, 100]], ['held' => 0, 'even' => 1]);
            self::assertEqualsWithDelta($plain, self::soundsFor($even), 1500, 'as long as the recording');
            self::assertEqualsWithDelta($hz, self::hertz(\array_slice($even, 8000, 20000)), 0.006 * $hz);
            self::assertEqualsWithDelta($plain * $tuned, self::soundsFor($this->played([[0, $pitch, 127, 100]], ['held' => 0])), 0.02 * $plain, 'else as its pitch makes it');
        }
    }

    /**
     * @param list<float> $sound
     *
     * @return int frames up to the last that is heard
     */
    private static function soundsFor(array $sound): int
    {
        $at = \count($sound);
        while ($at > 0 && abs($sound[$at - 1]) < 0.01) {
            --$at;
        }

        return $at;
    }

    public function testChordsSoundTogetherAndSingleNotesCutEachOther(): void
    {
        $notes = [[0, 57, 127, 3000], [960, 64, 127, 1900]];
        $chord = $this->played($notes, ['single' => 0]);
        $single = $this->played($notes, ['single' => 1]);
        self::assertGreaterThan(1.5 * self::top(\array_slice($single, 30000, 4000)), self::top(\array_slice($chord, 30000, 4000)));
        self::assertEqualsWithDelta(220.0 * 2 ** (7 / 12), self::hertz(\array_slice($single, 25000, 15000)), 1.0, 'only the second is left');
        self::assertSame(\array_slice($chord, 0, 22000), \array_slice($single, 0, 22000), 'until it comes they are the same');
    }

    public function testAGlideGoesFromTheNoteBeforeEvenlyInCents(): void
    {
        $notes = [[0, 57, 127, 960], [960, 69, 127, 2000]];
        $glided = $this->played($notes, ['single' => 1, 'glideMs' => 400]);
        // Half a second in, the second note comes up from the first; after 200 ms it is half an octave away.
        foreach ([0.05, 0.2, 0.35] as $seconds) {
            $hz = 220 * 2 ** ($seconds / 0.4);
            $at = 22050 + (int) ($seconds * 44100);
            self::assertEqualsWithDelta($hz, self::hertz(\array_slice($glided, $at - 700, 1400)), 0.02 * $hz, $seconds.' s');
        }
        // There, it is the note itself, to the bit, and nothing clicks on the way.
        $plain = $this->played([[960, 69, 127, 2000]], ['single' => 1]);
        $there = \array_slice($glided, 22050 + 17640, 8000);
        $shift = self::shift($there, \array_slice($plain, 22050, 40000));
        self::assertSame($there, \array_slice($plain, 22050 + $shift, 8000));
        $bends = array_map(static fn (int $i): float => abs($glided[$i + 1] - 2 * $glided[$i] + $glided[$i - 1]), range(22400, 45000));
        self::assertLessThan(1.2 * 0.4 * (2 * \M_PI * 440 / 44100) ** 2, max($bends));
        // Going round, the first note glides from the last.
        $beat = $this->beat($notes, ['single' => 1, 'glideMs' => 400]);
        $loop = $this->sound(Plan::loop($beat, 's1', $sounds = $this->sounds()), $sounds);
        self::assertGreaterThan(300.0, self::hertz(\array_slice($loop, 300, 2000)));
    }

    public function testLegatoMovesThePitchOfWhatSoundsAndStrikesNothingAnew(): void
    {
        $settings = ['single' => 1, 'legato' => 1, 'amp/attackMs' => 400, 'glideMs' => 50];
        $notes = [[0, 57, 127, 1100], [960, 64, 40, 1100], [1920, 52, 127, 900]];
        $legato = $this->played($notes, $settings);
        foreach ([[10000, 57], [28000, 64], [50000, 52]] as [$at, $pitch]) {
            $hz = 440 * 2 ** (($pitch - 69) / 12);
            self::assertEqualsWithDelta($hz, self::hertz(\array_slice($legato, $at, 9000)), 0.005 * $hz, 'note '.$pitch);
        }
        // The attack is over, and the first note's strength holds, until the last one is let go.
        self::assertGreaterThan(0.38, self::top(\array_slice($legato, 22050, 300)));
        self::assertGreaterThan(0.38, self::top(\array_slice($legato, 60000, 300)));
        self::assertSame(0.0, self::top(\array_slice($legato, (int) (2820 / 1920 * 44100) + 3000, 1000)));
        $bends = array_map(static fn (int $i): float => abs($legato[$i + 1] - 2 * $legato[$i] + $legato[$i - 1]), range(20000, 60000));
        self::assertLessThan(1.2 * 0.4 * (2 * \M_PI * 330 / 44100) ** 2, max($bends), 'nothing clicks');
        // Without it, or after a gap, a note is struck.
        self::assertLessThan(0.1, self::top(\array_slice($this->played($notes, ['legato' => 0] + $settings), 22300, 300)));
        self::assertLessThan(0.1, self::top(\array_slice($this->played([[0, 57, 127, 900], [960, 64, 127, 900]], $settings), 22300, 300)));
    }

    /**
     * @param list<list<int>>          $notes
     * @param array<string, int|float> $settings
     *
     * @return list<float> a side
     */
    private function played(array $notes, array $settings, int $bars = 2): array
    {
        $beat = RandomBeats::changed($this->beat([], $settings), [['type' => 'set-pattern', 'pattern' => 'p2', 'bars' => $bars], ['type' => 'edit-notes', 'pattern' => 'p2', 'notes' => $notes]]);

        return $this->sound(Plan::song($beat, [Entry::once('s1')], $sounds = $this->sounds()), $sounds);
    }

    /**
     * @param list<list<int>>          $notes
     * @param array<string, int|float> $settings
     */
    private function beat(array $notes, array $settings): Beat
    {
        $tone = Sounds::sine(220, 3 * 44100, 44100, 0.4);
        $hash = Sounds::put($this->folder, new StereoBlock($tone, $tone));

        return RandomBeats::changed(Beat::empty('Keys'), [
            ['type' => 'set-tempo', 'bpm' => 120],
            ['type' => 'add-part', 'id' => 'part-2', 'name' => 'Tone', 'sample' => $hash, 'start' => 0, 'end' => 3 * 44100, 'rootCents' => 5700, 'section' => 's1'],
            ...isset($settings['loopStart']) ? [['type' => 'set-keys', 'part' => 'part-2', 'loopStart' => $settings['loopStart'], 'loopEnd' => $settings['loopEnd']]] : [],
            ['type' => 'set', 'under' => 'part/part-2', 'single' => 0, ...array_combine(array_map(static fn (string $f): string => 'rootCents' === $f ? 'zones/0/rootCents' : $f, array_keys($plain = array_diff_key($settings, ['loopStart' => 1, 'loopEnd' => 1]))), $plain)],
            ...[] === $notes ? [] : [['type' => 'edit-notes', 'pattern' => 'p2', 'notes' => $notes]],
        ]);
    }

    private function sounds(): PadSounds
    {
        return new PadSounds(new SampleLibrary($this->folder), Beat::SAMPLE_RATE);
    }

    /** @return list<float> */
    private function sound(Plan $plan, PadSounds $sounds): array
    {
        $left = [];
        foreach ((new Renderer($sounds, SegmentCache::none()))->stream($plan) as $moment) {
            array_push($left, ...$moment->mix->block()->left);
        }

        return $left;
    }

    public function testALoopedNoteLastsAsLongAsItIsHeldWithoutAClick(): void
    {
        // Three seconds of sound held for five, at another pitch than its own; its loop is no whole number of waves.
        $sound = $this->played([[0, 60, 127, 9600]], ['loopStart' => 30000, 'loopEnd' => 71111, 'amp/releaseMs' => 50], 4);
        self::assertEqualsWithDelta(220 * 2 ** 0.25, self::hertz(\array_slice($sound, 150000, 30000)), 1.0);
        self::assertGreaterThan(0.3, self::top(\array_slice($sound, 215000, 4000)));
        self::assertSame(0.0, self::top(\array_slice($sound, 5 * 44100 + 2300, 2000)));
        $bends = array_map(static fn (int $i): float => abs($sound[$i + 1] - 2 * $sound[$i] + $sound[$i - 1]), range(1000, 215000));
        self::assertLessThan(2.0 * 0.4 * (2 * \M_PI * 262 / 44100) ** 2, max($bends));
        // Until the loop's end it is the sound itself.
        self::assertSame(\array_slice($this->played([[0, 60, 127, 9600]], ['amp/releaseMs' => 50], 4), 0, 50000), \array_slice($sound, 0, 50000));
    }

    /** @param list<float> $side */
    private static function top(array $side): float
    {
        return max([0.0, ...$side]);
    }

    /** @param list<float> $tone */
    private static function hertz(array $tone): float
    {
        $crossings = [];
        foreach ($tone as $i => $x) {
            if ($i > 0 && $tone[$i - 1] < 0.0 && $x >= 0.0) {
                $crossings[] = $i - 1 + $tone[$i - 1] / ($tone[$i - 1] - $x);
            }
        }
        self::assertGreaterThan(1, \count($crossings));

        return 44100 * (\count($crossings) - 1) / ($crossings[\count($crossings) - 1] - $crossings[0]);
    }

    /**
     * @param list<float> $part
     * @param list<float> $whole
     */
    private static function shift(array $part, array $whole): int
    {
        for ($i = 0; $i + 8 < \count($whole); ++$i) {
            if (\array_slice($whole, $i, 8) === \array_slice($part, 0, 8)) {
                return $i;
            }
        }
        self::fail('It is nowhere in it.');
    }
}
