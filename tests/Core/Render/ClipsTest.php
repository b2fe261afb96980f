<?php

namespace Pestle\Tests\Core\Render;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\Renderer;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;
use Pestle\Core\Song\Clip;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;

/** Sounds placed freely over the song: known answers, and what they are after they are cut, joined and moved. */
final class ClipsTest extends TestCase
{
    private const BAR = 3840;
    /** Frames of a bar at 120 BPM. */
    private const BAR_FRAMES = 88200;
    private static string $folder;
    private static string $noise;
    private static PadSounds $sounds;

    public static function setUpBeforeClass(): void
    {
        self::$folder = Sounds::folder();
        $rising = array_map(static fn (int $i): float => 0.25 + ($i % 2000) / 16384.0, range(0, 99_999));
        self::$noise = Sounds::put(self::$folder, new StereoBlock($rising, $rising));
        self::$sounds = new PadSounds(new SampleLibrary(self::$folder), Beat::SAMPLE_RATE);
    }

    public function testItSoundsWhereItLiesAndAsItWasRecorded(): void
    {
        $left = self::heard(self::beat([self::clip('k1', self::BAR + 480, 0, 50_000, ['levelDb' => -6])]));
        $start = self::BAR_FRAMES + intdiv(self::BAR_FRAMES, 8);
        self::assertSame(0.0, self::most(\array_slice($left, 0, $start)));
        $gain = 10.0 ** (-6.0 / 20.0);
        foreach ([0, 1, 999, 30_000, 49_000] as $i) {
            self::assertEqualsWithDelta($gain * (0.25 + ($i % 2000) / 16384.0), $left[$start + $i], 1e-6, "frame $i");
        }
        self::assertEqualsWithDelta(0.0, $left[$start + 50_000], 1e-9);
    }

    /** Ten minutes on, it lies on the frame of the hit that is written on the same tick. */
    #[TestWith([97.3])]
    #[TestWith([133.33])]
    public function testItDoesNotDriftAgainstTheGrid(float $bpm): void
    {
        $beat = self::beat([['type' => 'set-tempo', 'bpm' => $bpm], ['type' => 'set-song', 'sections' => ['s1', 's1', 's1', 's1', 's1']], ['type' => 'set', ...array_fill_keys(['song/e1/repeats', 'song/e2/repeats', 'song/e3/repeats', 'song/e4/repeats', 'song/e5/repeats'], 60)]]);
        $beat = RandomBeats::changed($beat, [self::clip('k1', 290 * self::BAR, 0, 9000), ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 127]]]]);
        foreach (Plan::song($beat, Passage::song($beat), self::$sounds)->segments() as $segment) {
            foreach ($segment->voices['track-1'] ?? [] as [$voice, $start]) {
                $at = array_map(static fn (array $hit): int => $hit[1], $segment->voices['a0'] ?? []);
                self::assertContains($start, $at);
                self::assertSame($beat->tempo->frames(290 * self::BAR, Beat::SAMPLE_RATE), $voice->start);

                return;
            }
        }
        self::fail('It was not heard.');
    }

    /** Split anywhere, both together are what it was, to the bit; joined, it is what it was. */
    public function testInTwoItSoundsAsItDid(): void
    {
        foreach ([[], ['reversed' => 1, 'fadeInMs' => 0], ['fadeInMs' => 100, 'fadeOutMs' => 300, 'fadeOutShape' => 's'], ['levelDb' => -3]] as $set) {
            $beat = self::beat([self::clip('k1', 100, 2000, 90_000, $set)]);
            $split = RandomBeats::changed($beat, [['type' => 'split-clip', 'clip' => 'k1', 'id' => 'k2', 'at' => 1777]]);
            self::assertCount(2, $split->clips);
            [$whole, $parts] = [self::heard($beat), self::heard($split)];
            // Two voices are added on the grid, where there was one.
            self::assertLessThan(1.5 / (1 << 23), self::apart($whole, $parts));
            $joined = RandomBeats::changed($split, [['type' => 'join-clips', 'clip' => 'k1']]);
            self::assertEquals($beat->clips, $joined->clips);
        }
    }

    public function testBackwardsPitchedAndInTime(): void
    {
        $back = self::heard(self::beat([self::clip('k1', 0, 0, 50_000, ['reversed' => 1])]));
        self::assertEqualsWithDelta(0.25 + (50_000 - 1 - 20_000) % 2000 / 16384.0, $back[20_000], 1e-6);
        $clip = self::beat([self::clip('k1', 0, 0, 88_200, ['bpm' => 60])])->clip('k1');
        self::assertSame(1920.0, $clip->ticks(Timeline::song(self::beat([]))), 'two beats at 60 a minute are two beats at 120');
        $faster = self::beat([self::clip('k1', 0, 0, 88_200, ['bpm' => 60]), ['type' => 'set-tempo', 'bpm' => 90]]);
        self::assertEqualsWithDelta(1920.0, $faster->clip('k1')->ticks(Timeline::song($faster)), 1e-6, 'whatever the tempo is');
        $heard = self::heard($faster);
        $last = array_key_last(array_filter($heard, static fn (float $x): bool => abs($x) > 0.01)) ?? 0;
        self::assertEqualsWithDelta(44_100 * 2 * 60 / 90, $last, 300);
        $twice = RandomBeats::changed($faster, [['type' => 'scale-time', 'factor' => 2.0]]);
        self::assertEqualsWithDelta($faster->tempo->seconds($faster->clip('k1')->ticks(Timeline::song($faster))), $twice->tempo->seconds($twice->clip('k1')->ticks(Timeline::song($twice))), 1e-9);
    }

    public function testFadesAreWhatTheyAreSet(): void
    {
        $left = self::heard(self::beat([self::clip('k1', 0, 4000, 48_100, ['fadeInMs' => 500, 'fadeInShape' => 'slow', 'fadeOutMs' => 250])]));
        $plain = static fn (int $i): float => 0.25 + (4000 + $i) % 2000 / 16384.0;
        self::assertEqualsWithDelta(0.25 * $plain(11_025), $left[11_025], 1e-4, 'half-way, a quarter');
        self::assertEqualsWithDelta($plain(25_000), $left[25_000], 1e-6);
        self::assertEqualsWithDelta(0.5 * $plain(44_100 - 5512), $left[44_100 - 5512], 1e-3);
        // Longer together than it is: each gets its share, and nothing sounds before it.
        $short = self::heard(self::beat([self::clip('k1', self::BAR, 4000, 8410, ['fadeInMs' => 300, 'fadeOutMs' => 100])]));
        self::assertSame(0.0, $short[self::BAR_FRAMES - 1]);
        self::assertEqualsWithDelta($plain(3307), self::most($short), 2e-3, 'three quarters rise, one quarter falls');
    }

    /** A room rings on after a clip, or leads up to it backwards; the clip itself stays where it lies, and nothing sounds before the song. */
    public function testDrownedInARoomAndTheRoomBeforeIt(): void
    {
        $at = 2 * self::BAR;
        $frame = 2 * self::BAR_FRAMES;
        $power = self::power(...);
        $room = ['roomSeconds' => 1.5, 'roomMix' => 50];
        $after = self::heard(self::beat([self::clip('k1', $at, 4000, 26_050, $room)]));
        $before = self::heard(self::beat([self::clip('k1', $at, 4000, 26_050, $room + ['roomBefore' => 1])]));
        $end = $frame + 22_050;
        self::assertSame(0.0, self::most(\array_slice($after, 0, $frame)));
        self::assertGreaterThan(1e-5, $power($after, $end + 2000, $end + 10_000));
        self::assertLessThan(0.01 * $power($after, $end + 2000, $end + 10_000), $power($after, $end + 50_000, $end + 66_000), 'it dies away');
        self::assertGreaterThan(1e-5, $power($before, $frame - 10_000, $frame - 2000));
        self::assertLessThan(0.05 * $power($before, $frame - 10_000, $frame - 2000), $power($before, $frame - 60_000, $frame - 50_000), 'it swells');
        self::assertSame(0.0, self::most(\array_slice($before, $end + 200)));
        self::assertSame(0.0, self::most(\array_slice($before, 0, $frame - 66_150 - 200)));
        // Longer than what lies before it: heard from where the song begins.
        $early = self::heard(self::beat([self::clip('k1', 480, 4000, 26_050, ['roomSeconds' => 4, 'roomBefore' => 1])]));
        self::assertGreaterThan(1e-5, $power($early, 0, 8000));
        self::assertGreaterThan(0.02, $power($early, intdiv(self::BAR_FRAMES, 8) + 2000, intdiv(self::BAR_FRAMES, 8) + 10_000));
        // A room that reaches back over a whole pass of a section before its own is heard there.
        $long = self::heard(self::beat([['type' => 'set', 'song/e1/repeats' => 6], self::clip('k1', 5 * self::BAR, 4000, 26_050, ['roomSeconds' => 6, 'roomBefore' => 1])]));
        self::assertGreaterThan(0.0, $power($long, 5 * self::BAR_FRAMES - 200_000, 5 * self::BAR_FRAMES - 180_000));
    }

    public function testItIsRepeatedUntilSomewhereAndCrossfadedWhereTwoOverlap(): void
    {
        $beat = self::beat([self::clip('k1', 480, 0, 44_100)]);
        $until = RandomBeats::changed($beat, [['type' => 'repeat-clip', 'clip' => 'k1', 'until' => 480 + 3 * 1920 + 960]]);
        self::assertSame([480, 2400, 4320, 6240], array_values(array_map(static fn (Clip $c): int => $c->at, $until->clips)));
        self::assertSame(22_050, $until->clip('k4')->to, 'the last is cropped');
        $over = RandomBeats::changed($beat, [['type' => 'repeat-clip', 'clip' => 'k1', 'every' => 960], ['type' => 'crossfade-clip', 'clip' => 'k2']]);
        self::assertSame([500.0, 500.0], [$over->clip('k1')->fadeOutMs, $over->clip('k2')->fadeInMs]);
        self::assertSame([0.0, 0.0], [$over->clip('k1')->fadeInMs, $over->clip('k2')->fadeOutMs]);
    }

    /** Under another order of sections of unequal length everything lies where it belongs. */
    public function testItGoesAlongWithTheSectionItLiesUnder(): void
    {
        $beat = self::beat([
            ['type' => 'set-section', 'section' => 's1', 'bars' => 1], ['type' => 'add-section', 'id' => 's2', 'name' => 'Long', 'copyOf' => 's1'], ['type' => 'set-section', 'section' => 's2', 'bars' => 3],
            ['type' => 'set', 'song/e1/repeats' => 2],
            self::clip('k1', 500, 0, 900), self::clip('k2', 2 * self::BAR + 7, 0, 900), self::clip('k3', 5 * self::BAR + 11, 0, 900), ['type' => 'set-marker', 'id' => 'n1', 'name' => 'Rain stops', 'at' => 3 * self::BAR],
        ]);
        $places = static fn (Beat $b): array => [...array_map(static fn (Clip $c): int => $c->at, $b->clips), ...array_map(static fn ($m): int => $m->at, $b->markers)];
        $turned = RandomBeats::changed($beat, [['type' => 'set-song', 'entries' => [['e2', 's2'], ['e1', 's1']]]]);
        self::assertSame(['k1' => 3 * self::BAR + 500, 'k2' => 7, 'k3' => 5 * self::BAR + 11, 'n1' => self::BAR], $places($turned));
        self::assertSame($places($beat), $places(RandomBeats::changed($turned, [['type' => 'set-song', 'entries' => [['e1', 's1'], ['e2', 's2']]]])));
        // Inserted before it, a section pushes it on; taken out, it takes what lies under it along.
        self::assertSame(5 * self::BAR + 7, RandomBeats::changed($beat, [['type' => 'add-section', 'id' => 's3', 'name' => 'New', 'copyOf' => 's2', 'after' => 1]])->clip('k2')->at);
        $out = RandomBeats::changed($beat, [['type' => 'set-song', 'entries' => [['e2', 's2']]]]);
        self::assertSame(['k2' => 7, 'k3' => 3 * self::BAR + 11, 'n1' => self::BAR], $places($out));
        // A section that is emptied for a moment moves nothing.
        $silent = RandomBeats::changed($beat, [['type' => 'set-section', 'section' => 's2', 'bars' => 0], ['type' => 'edit-hits', 'pattern' => 'p2', 'hits' => [], 'take' => [[0, 'a0']]]]);
        $again = RandomBeats::changed($silent, [['type' => 'edit-hits', 'pattern' => 'p2', 'hits' => [[0, 'a0', 90]]]]);
        self::assertSame($places($silent)['k2'], $places($again)['k2']);
    }

    /** What goes round is what the song is there, with what already sounded where it begins; a whole pass is the loop of its section. */
    public function testAnyStretchOfTheSongGoesRound(): void
    {
        $beat = self::beat([
            ['type' => 'set', 'mixer/c1/mute' => 0], ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[120, 'a0', 100], [2000, 'a0', 60]]],
            ['type' => 'add-section', 'id' => 's2', 'name' => 'Other', 'copyOf' => 's1'], ['type' => 'set', 'song/e1/repeats' => 3],
            self::clip('k1', 3000, 0, 60_000), self::clip('k2', 3 * self::BAR + 100, 2000, 9000),
        ]);
        [$song, $round] = [self::heard($beat), self::around($beat, '5000-13000')];
        $start = $beat->tempo->frames(5000, Beat::SAMPLE_RATE);
        self::assertCount($beat->tempo->frames(8000, Beat::SAMPLE_RATE), $round);
        // But for the tail of a voice that fades over the border, and places that are rounded once less.
        $here = array_values(\array_slice($song, $start, \count($round)));
        self::assertLessThan(1e-6, self::apart(\array_slice($here, 200, 40_000), \array_slice($round, 200, 40_000)));
        self::assertGreaterThan(0.2, self::most(\array_slice($round, 0, 30_000)));
        $loud = array_keys(array_filter($round, static fn (float $x): bool => abs($x) > 0.01));
        self::assertSame($beat->tempo->frames(2 * self::BAR + 120 - 5000, Beat::SAMPLE_RATE), array_values(array_filter($loud, static fn (int $i): bool => $i > 40_000))[0]);
        $bare = RandomBeats::changed($beat, [['type' => 'remove-clips', 'clips' => ['k1', 'k2']]]);
        self::assertSame(0.0, self::apart(self::around($bare, 's1'), self::around($bare, '0-3840')));
        self::assertSame(0.0, self::most(self::around($bare, '90000-94000')), 'behind the end nothing sounds');
        try {
            self::around($beat, '0-999999999');
            self::fail('It would never end.');
        } catch (InvalidChange $e) {
            self::assertStringContainsString('at most 2 are played', $e->getMessage());
        }
        $this->expectExceptionMessage('A range of the song ends after it begins.');
        self::around($beat, '500-500');
    }

    /** Of two takes the newer is heard; by stretch the older again; nothing of either is lost, and exactly one sounds everywhere. */
    public function testOfSeveralTakesOneIsHeard(): void
    {
        $beat = self::beat([self::clip('k1', 960, 0, 88_200), self::clip('k2', 960, 5000, 93_200, ['take' => 1, 'levelDb' => -6])]);
        self::assertTrue($beat->clip('k1')->muted);
        self::assertFalse($beat->clip('k2')->muted);
        $mixed = RandomBeats::changed($beat, [['type' => 'choose-take', 'clip' => 'k1', 'from' => 1920, 'to' => 2880]]);
        $heard = array_filter($mixed->clips, static fn (Clip $c): bool => !$c->muted);
        usort($heard, static fn (Clip $a, Clip $b): int => $a->at <=> $b->at);
        self::assertSame([[960, 5000], [1920, 22_050], [2880, 49_100]], array_map(static fn (Clip $c): array => [$c->at, $c->from], $heard));
        foreach ([0, 5000] as $first) {
            $own = array_filter($mixed->clips, static fn (Clip $c): bool => $c->levelDb === (0 === $first ? 0.0 : -6.0));
            self::assertSame(88_200, array_sum(array_map(static fn (Clip $c): int => $c->to - $c->from, $own)), 'all of it is still there');
        }
        $again = RandomBeats::changed($mixed, [['type' => 'choose-take', 'clip' => $heard[0]->id], ['type' => 'choose-take', 'clip' => array_key_last(array_filter($mixed->clips, static fn (Clip $c): bool => $c->muted && -6.0 === $c->levelDb)) ?? '']]);
        self::assertSame([-6.0, -6.0, -6.0], array_values(array_map(static fn (Clip $c): float => $c->levelDb, array_filter($again->clips, static fn (Clip $c): bool => !$c->muted))));
        self::assertLessThan(1.5 / (1 << 23), self::apart(self::heard($beat), self::heard($again)));
        $this->expectExceptionMessage('Clip does not reach into this range.');
        RandomBeats::changed($beat, [['type' => 'choose-take', 'clip' => 'k1', 'from' => 90_000, 'to' => 99_000]]);
    }

    public function testWhatDoesNotFitIsRefusedByName(): void
    {
        $beat = self::beat([self::clip('k1', 480, 0, 44_100)]);
        foreach ([
            [self::clip('k1', 0, 0, 100), 'A clip with this id is in the song already.'],
            [self::clip('k2', 0, 100, 100), 'its end must lie after its start'],
            [self::clip('k2', 0, 0, 100, ['track' => 'a0']), 'The id of a track begins with "track-".'],
            [self::clip('k2', 0, 0, 100, ['fadeInMs' => -1]), 'fadeInMs must be a number from 0 to 60000.'],
            [['type' => 'set-clips', 'clips' => [['id' => 'k1', 'from' => 50_000]]], 'its end must lie after its start'],
            [['type' => 'set-clips', 'clips' => [['id' => 'k1', 'track' => 'track-9']]], 'This track is no longer in the beat.'],
            [['type' => 'split-clip', 'clip' => 'k1', 'id' => 'k2', 'at' => 480], 'Clip does not sound there'],
            [['type' => 'join-clips', 'clip' => 'k1'], 'Nothing goes on where Clip ends'],
            [['type' => 'crossfade-clip', 'clip' => 'k1'], 'Clip overlaps no other clip of its track'],
            [['type' => 'repeat-clip', 'clip' => 'k1', 'until' => 500], 'until must lie behind the end of the clip.'],
            [['type' => 'repeat-clip', 'clip' => 'k1', 'until' => 900_000_000], 'That would be more than 1000 clips'],
            [['type' => 'remove-marker', 'marker' => 'n1'], 'This marker is no longer in the song.'],
        ] as [$change, $words]) {
            try {
                Changes::apply(Changes::read($change), $beat);
                self::fail('It was taken: '.json_encode($change));
            } catch (InvalidChange $e) {
                self::assertStringContainsString($words, $e->getMessage());
            }
        }
        $document = BeatCodec::toArray($beat);
        $document['tracks'] = [];
        $this->expectExceptionMessage('Clip lies on the track track-1, which is not in the beat.');
        BeatCodec::decode(BeatCodec::json($document));
    }

    public function testATrackGoesWithItsClipsAndItsChannel(): void
    {
        $beat = self::beat([self::clip('k1', 480, 0, 44_100), self::clip('k2', 480, 0, 44_100, ['track' => 'track-2', 'trackName' => 'Voices'])]);
        self::assertSame(['Clip', 'Voices'], array_values(array_map(static fn ($t): string => $t->name, $beat->tracks)));
        self::assertNotSame($beat->track('track-1')->channel, $beat->track('track-2')->channel);
        $gone = RandomBeats::changed($beat, [['type' => 'remove-track', 'track' => 'track-2']]);
        self::assertSame([['track-1'], ['k1']], [array_keys($gone->tracks), array_keys($gone->clips)]);
        self::assertArrayNotHasKey($beat->track('track-2')->channel, $gone->mixer->nodes);
    }

    /**
     * @param array<string, mixed> $set
     *
     * @return array<string, mixed>
     */
    private static function clip(string $id, int $at, int $from, int $to, array $set = []): array
    {
        return ['type' => 'add-clip', 'id' => $id, 'track' => 'track-1', 'name' => 'Clip', 'sample' => self::$noise, 'rate' => 44100, 'at' => $at, 'from' => $from, 'to' => $to, ...$set];
    }

    /** @param list<array<string, mixed>> $changes */
    private static function beat(array $changes): Beat
    {
        $beat = RandomBeats::changed(Beat::empty('Laid'), [
            ['type' => 'set-tempo', 'bpm' => 120], ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 1],
            ['type' => 'fill-pad', 'pad' => 'a0', 'sample' => self::$noise, 'name' => 'Tick', 'role' => 'hat', 'start' => 0, 'end' => 900],
            ['type' => 'set', 'mixer/c1/mute' => 1], ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[3000, 'a0', 1]]],
            ['type' => 'set', 'song/e1/repeats' => 2],
            ...$changes,
        ]);

        return RandomBeats::dry($beat);
    }

    /** @param list<float> $sound */
    private static function most(array $sound): float
    {
        return max([0.0, ...array_map(abs(...), $sound)]);
    }

    /** @param list<float> $sound */
    private static function power(array $sound, int $from, int $to): float
    {
        return array_sum(array_map(static fn (float $v): float => $v * $v, \array_slice($sound, $from, $to - $from))) / max(1, $to - $from);
    }

    /**
     * @param list<float> $one
     * @param list<float> $other
     */
    private static function apart(array $one, array $other): float
    {
        self::assertCount(\count($one), $other);

        return self::most(array_map(static fn (float $a, float $b): float => $a - $b, $one, $other));
    }

    /** @return list<float> the left side of what goes round */
    private static function around(Beat $beat, string $what): array
    {
        $pieces = [];
        foreach ((new Renderer(self::$sounds, SegmentCache::none()))->loop(Plan::loop($beat, $what, self::$sounds)) as $moment) {
            if (null !== $moment) {
                $pieces[$moment->segment->index] = $moment->mix->block()->left;
            }
        }
        ksort($pieces);

        return array_merge(...$pieces);
    }

    /** @return list<float> the left side of its song */
    private static function heard(Beat $beat): array
    {
        $left = [];
        foreach ((new Renderer(self::$sounds, SegmentCache::none()))->stream(Plan::song($beat, Passage::song($beat), self::$sounds)) as $moment) {
            array_push($left, ...$moment->mix->block()->left);
        }

        return $left;
    }
}
