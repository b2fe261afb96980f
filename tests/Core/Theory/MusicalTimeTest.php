<?php

namespace Pestle\Tests\Core\Theory;

use Pestle\Core\Theory\Key;
use Pestle\Core\Theory\Scale;
use Pestle\Core\Theory\Swing;
use Pestle\Core\Theory\Tempo;
use Pestle\Core\Theory\Ticks;
use PHPUnit\Framework\TestCase;

final class MusicalTimeTest extends TestCase
{
    public function testTicksSnapToTheNearestStep(): void
    {
        self::assertSame(240, Ticks::snap(121));
        self::assertSame(0, Ticks::snap(119));
    }

    public function testATempoTurnsTicksIntoWholeFramesAndBack(): void
    {
        self::assertSame(44100, Tempo::bpm(60)->frames(Ticks::PER_QUARTER, 44100));
        self::assertSame(470400, Tempo::bpm(90)->frames(4 * Ticks::PER_BAR, 44100));
        foreach ([20.0, 72.5, 86.0, 133.33, 300.0] as $bpm) {
            $tempo = Tempo::bpm($bpm);
            self::assertSame(7777, $tempo->ticks($tempo->seconds(7777)));
        }
        $this->expectExceptionMessage('Tempo must lie between 20 and 300 BPM.');
        Tempo::bpm(301);
    }

    /** By the second rules: exact, in order, triplets where they are written; and what is played comes back within a tick. */
    public function testSwingLeavesTripletsWhereTheyAre(): void
    {
        foreach ([240, 480] as $step) {
            foreach ([50.0, 54.3, 58.0, 66.0, 66.7, 71.9, 75.0] as $percent) {
                $swing = Swing::percent($percent, $step);
                self::assertEqualsWithDelta(3 * 2 * $step + $step * $percent / 50.0, $swing->at(3 * 2 * $step + $step), 1e-9);
                foreach ([1, 2, 4, 5, 7, 8] as $sixth) {
                    self::assertEqualsWithDelta($sixth * $step / 3, $swing->at($sixth * $step / 3), 1e-9, 'a triplet stays');
                }
                for ($tick = 0; $tick < 4 * $step; ++$tick) {
                    self::assertEqualsWithDelta($swing->at($tick), $swing->at(round($swing->writtenAt($swing->at($tick)))), 1.6, "$tick at $percent on $step");
                    // Wherever it is played it is heard within three ticks of that.
                    self::assertEqualsWithDelta($tick, $swing->at(round($swing->writtenAt($tick))), 3.1, "$tick at $percent on $step");
                }
            }
        }
        $straight = Swing::percent(50.0);
        self::assertSame([0.0, 160.0, 239.5, 333.0], [$straight->at(0.0), $straight->at(160.0), $straight->at(239.5), $straight->at(333.0)]);
    }

    public function testSwingMovesOffBeatsAndKeepsOrder(): void
    {
        $swing = Swing::percent(58);
        self::assertSame(0, $swing->sounding(0));
        self::assertSame(278, $swing->sounding(240));
        self::assertSame(480, $swing->sounding(480));
        foreach ([50.0, 58.0, 66.7, 75.0] as $percent) {
            $swing = Swing::percent($percent);
            $before = -1;
            for ($tick = 0; $tick < 1920; $tick += 7) {
                $sounding = $swing->sounding($tick);
                self::assertGreaterThanOrEqual($before, $sounding);
                self::assertEqualsWithDelta($tick, $swing->written($sounding), 1.0);
                $before = $sounding;
            }
        }
    }

    public function testKeysAreReadInBothSpellings(): void
    {
        self::assertSame('Bb minor', Key::named('A# minor')->name());
        foreach (Key::names() as $name) {
            self::assertSame($name, Key::named($name)->name());
        }
        // Five flats before seven sharps; and what the signature says.
        $signatures = ['Db major' => -5, 'Eb major' => -3, 'F# major' => 6, 'Ab major' => -4, 'Bb major' => -2, 'B major' => 5, 'C major' => 0, 'C# minor' => 4, 'Eb minor' => -6, 'F minor' => -4, 'F# minor' => 3, 'G# minor' => 5, 'Bb minor' => -5, 'D minor' => -1, 'A minor' => 0];
        foreach ($signatures as $name => $fifths) {
            self::assertSame([$name, $fifths], [Key::of(Key::named($name)->tonic, Key::named($name)->minor)->name(), Key::named($name)->fifths()]);
        }
        $this->expectExceptionMessage('"H minor" is not a key. Write it like "D minor" or "F# major".');
        Key::named('H minor');
    }

    public function testScalesAreToldFromTheirRoot(): void
    {
        self::assertSame([9, 0, 2, 4, 7], Scale::MinorPentatonic->classes(9));
        self::assertSame([2, 4, 5, 7, 9, 11, 0], Scale::Dorian->classes(2));
        self::assertSame([[9, 0, 4], [2, 5, 9], [0, 4, 7], [11, 2]], [Scale::Blues->homeChord(9), Scale::Dorian->homeChord(2), Scale::Major->homeChord(0), Scale::Locrian->homeChord(11)]);
        foreach (Scale::cases() as $scale) {
            self::assertSame($scale->steps(), $scale->classes(0));
            self::assertSame($scale->steps(), array_values(array_unique($scale->steps())));
        }
        self::assertSame(Key::named('D minor')->scale(), Scale::Minor->classes(2));
    }
}
