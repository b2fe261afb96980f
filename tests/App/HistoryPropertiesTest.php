<?php

namespace Pestle\Tests\App;

use Pestle\App\Entity\BeatRecord;
use Pestle\App\Storage\Beats;
use Pestle\App\Storage\Manifest;
use Pestle\App\Storage\OldVersions;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Tests\Core\Render\RandomBeats;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;

/** Walks by chance through changes: what holds on every way. */
final class HistoryPropertiesTest extends AppCase
{
    private const HASH = '00112233445566778899aabbccddeeff00112233445566778899aabbccddeeff';

    /** @return iterable<string, array{int}> */
    public static function seeds(): iterable
    {
        foreach (range(1, 6) as $seed) {
            yield 'seed '.$seed => [$seed];
        }
    }

    #[DataProvider('seeds')]
    public function testUndoAndRedoLeadThroughEveryState(int $seed): void
    {
        $chance = new Randomizer(new Xoshiro256StarStar($seed));
        $beats = self::service(Beats::class);
        $record = $beats->add((new RandomBeats(Sounds::folder()))->beat($seed));
        $states = [BeatCodec::encode($beats->content($record))];
        for ($i = 0; $i < 44; ++$i) {
            try {
                $beats->change($record, $record->head, 'walk-'.$seed.'-'.$i, Changes::read($this->step($chance)));
                $states[] = BeatCodec::encode($beats->content($record));
            } catch (InvalidChange) {
                self::assertSame(end($states), BeatCodec::encode($beats->content($record)), 'what was refused changed nothing');
            }
        }
        self::assertGreaterThan(8, \count($states));
        for ($i = \count($states) - 2; $i >= 0; --$i) {
            $beats->undo($record, $record->head);
            self::assertSame($states[$i], $this->state($beats, $record));
        }
        self::assertNull($beats->history($record)->undo);
        // Half of the way forth, some back, then all.
        $at = 0;
        foreach ([1, 1, 1, -1, 1, -1, -1, 1] as $step) {
            1 === $step ? $beats->redo($record, $record->head) : $beats->undo($record, $record->head);
            $at += $step;
            self::assertSame($states[$at] ?? 'none', $this->state($beats, $record));
        }
        while (null !== $beats->history($record)->redo) {
            $beats->redo($record, $record->head);
            self::assertSame($states[++$at], $this->state($beats, $record));
        }
        self::assertSame(\count($states) - 1, $at);
        // Every revision can still be read, and none was changed.
        for ($number = 1; $number <= \count($states); ++$number) {
            self::assertSame($states[$number - 1], BeatCodec::encode($beats->content($record, $number)));
        }
    }

    public function testOldVersionsGoAndTheWayBackEndsThere(): void
    {
        $beats = self::service(Beats::class);
        $old = self::service(OldVersions::class);
        $record = $beats->add(Beat::empty('Long'));
        $other = $beats->add(Beat::empty('Short'));
        $beats->change($other, 1, 'short', Changes::read(['type' => 'set-tempo', 'bpm' => 77]));
        for ($i = 1; $i <= OldVersions::STEPS + 20; ++$i) {
            $beats->change($record, $i, 'step-'.$i, Changes::read(['type' => 'rename-beat', 'name' => 'Step '.$i]));
        }
        $now = $this->state($beats, $record);
        $kept = BeatCodec::encode($beats->content($record, $record->head - OldVersions::STEPS + 1));
        self::assertGreaterThan(1000, $old->bytes());
        $freed = self::ask('POST', '/space/versions')->headers->get('Location');
        self::assertMatchesRegularExpression('/freed=[1-9]\d{3,}$/', (string) $freed);
        self::assertSame([0, $now], [$old->bytes(), $this->state($beats, $record)]);
        for ($steps = 0; null !== $beats->history($record)->undo; ++$steps) {
            $beats->undo($record, $record->head);
        }
        self::assertSame([OldVersions::STEPS - 1, $kept], [$steps, $this->state($beats, $record)]);
        $beats->redo($record, $record->head);
        $beats->undo($other, $other->head);
        self::assertSame(BeatCodec::encode(Beat::empty('Short')->with(['seed' => $beats->content($other)->seed])), $this->state($beats, $other));
    }

    public function testADocumentSurvivesBeingTakenApart(): void
    {
        $beats = new RandomBeats(Sounds::folder());
        foreach (range(1, 10) as $seed) {
            $beat = $beats->beat($seed);
            $pieces = Manifest::split($beat);
            self::assertSame(BeatCodec::encode($beat), BeatCodec::encode(BeatCodec::decode(Manifest::join($pieces))));
            $again = Manifest::split($beat->with(['name' => 'Other']));
            self::assertSame(['rest'], array_keys(array_diff_assoc($pieces, $again)), 'a new name touches one piece');
        }
    }

    #[DataProvider('seeds')]
    public function testNonsenseNeverBreaksAnything(int $seed): void
    {
        $chance = new Randomizer(new Xoshiro256StarStar(100 + $seed));
        $id = self::service(Beats::class)->add(RandomBeats::changed(Beat::empty('Fuzz'), [['type' => 'fill-pad', 'pad' => 'a0', 'sample' => self::HASH, 'name' => 'Knock', 'role' => 'kick', 'start' => 0, 'end' => 1000]]))->id;
        $values = [null, true, -1, 0, 7, 1.5, 1e300, '', 'x', 'p1', 'a0', 'c1', 'drums', '12', 's1', 'part-1', '7/8', "\0", str_repeat('é', 200), [], [[]], [[1, 'a0', 100]], ['a' => ['b' => 1]], '[[0,"a0",100]]', \PHP_INT_MAX, self::HASH, 'mixer/c1/gainDb', 'mixer/master/gainDb', 'song', 'section', 'pattern', 'rise', 'touched', [[0, -3], [960, -6, 0.5]], [['x']], 'track-1', 'k1', 'n1', 480, [['id' => 'k1', 'at' => 480]], ['k1'], [['e1', 's1']]];
        $fields = ['pattern', 'pad', 'channel', 'hits', 'take', 'bars', 'bpm', 'name', 'id', 'how', 'bar', 'markers', 'sample', 'start', 'end', 'band', 'shape', 'hz', 'gainDb', 'q', 'on', 'target', 'ratio', 'parts', 'with', 'mode', 'key', 'gesture', 'section', 'sections', 'part', 'notes', 'meter', 'repeats', 'rootCents', 'single', 'copyOf', 'linked', 'after', 'before', 'colour', 'role', 'frames', 'rate', 'swing', 'mute', 'group', 'patterns', 'lane', 'groove', 'quantise', 'grid', 'ticks', 'every', 'step', 'pitch', 'chord', 'ready', 'played', 'slots', 'sounds', 'feel', 'strength', 'path', 'scope', 'of', 'points', 'smoothMs', 'from', 'to', 'low', 'high', 'seed', 'toPath', 'toScope', 'toOf', 'copy', 'values', 'at', 'clip', 'clips', 'track', 'trackName', 'marker', 'until', 'entry', 'entries', 'fadeInMs', 'reversed', 'take', 'range', 'roomSeconds'];
        $types = ['rename-beat', 'set-tempo', 'set-key', 'fill-pad', 'set-pad', 'clear-pad', 'swap-pads', 'name-bank', 'set-slices', 'slices-to-pads', 'add-pattern', 'set-pattern', 'remove-pattern', 'edit-hits', 'record-hits', 'reshape-pattern', 'set-song', 'add-section', 'set-section', 'set-cell', 'remove-section', 'add-part', 'set-part', 'set-keys', 'remove-part', 'edit-notes', 'set-meter', 'set-feel', 'set-lane', 'write-feel', 'shape-lane', 'shape-notes', 'erase-held', 'add-groove', 'remove-groove', 'lay-ready-made', 'land-patterns', 'set-zones', 'land-sounds', 'set-movement', 'write-movement', 'shape-movement', 'carry-movement', 'add-track', 'set-track', 'remove-track', 'add-clip', 'set-clips', 'split-clip', 'join-clips', 'repeat-clip', 'crossfade-clip', 'choose-take', 'fix-part', 'play-again', 'splice-section', 'section-of-range', 'remove-clips', 'set-marker', 'remove-marker'];
        for ($i = 0; $i < 150; ++$i) {
            $change = ['type' => $types[$chance->getInt(0, \count($types) - 1)]];
            foreach ($fields as $field) {
                if ($chance->getInt(0, 2) > 0) {
                    $change[$field] = $values[$chance->getInt(0, \count($values) - 1)];
                }
            }
            $response = self::ask('POST', "/beats/$id/changes", $change, ['X-Pestle-Head' => 'newest']);
            self::assertContains($response->getStatusCode(), [200, 422], json_encode($change).' '.$response->getContent());
        }
        foreach (['pattern', 'arrange', 'arrange?view=song', 'mix'] as $page) {
            self::assertSame(200, self::ask('GET', "/beats/$id/$page", null, ['Accept' => 'text/html'])->getStatusCode(), 'the beat can still be opened');
        }
    }

    private function state(Beats $beats, BeatRecord $record): string
    {
        return BeatCodec::encode($beats->content($record));
    }

    /** @return array<string, mixed> */
    private function step(Randomizer $chance): array
    {
        $pad = 'a'.$chance->getInt(0, 5);

        return [
            ['type' => 'set-tempo', 'bpm' => $chance->getInt(60, 180)],
            ['type' => 'rename-beat', 'name' => 'Name '.$chance->getInt(1, 99)],
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[$chance->getInt(0, 3000), $pad, $chance->getInt(1, 127)]]],
            ['type' => 'set-pad', 'pad' => $pad, 'tuneCents' => $chance->getInt(-500, 500)],
            ['type' => 'clear-pad', 'pad' => $pad],
            ['type' => 'swap-pads', 'pad' => $pad, 'with' => 'a'.$chance->getInt(0, 9)],
            ['type' => 'set', 'under' => 'mixer/c'.$chance->getInt(1, 4), 'gainDb' => $chance->getInt(-20, 6)],
            ['type' => 'set-movement', 'path' => 'mixer/master/gainDb', ...[[], ['scope' => 'section', 'of' => 's1'], ['scope' => 'pattern', 'of' => 'p'.$chance->getInt(1, 3)]][$chance->getInt(0, 2)], 'points' => [[0, $chance->getInt(-20, 0)], [3840, $chance->getInt(-20, 0)]]],
            ['type' => 'add-pattern', 'id' => 'p'.$chance->getInt(1, 4), 'name' => 'New', 'copyOf' => 'p1'],
            ['type' => 'remove-pattern', 'pattern' => 'p'.$chance->getInt(1, 3)],
            ['type' => 'reshape-pattern', 'pattern' => 'p1', 'how' => 'double'],
            ['type' => 'set-slices', 'sample' => self::HASH, 'markers' => [0, $chance->getInt(1, 900)]],
            ['type' => 'add-clip', 'id' => $clip = 'k'.$chance->getInt(1, 3), 'track' => 'track-'.$chance->getInt(1, 2), 'name' => 'Rain', 'sample' => self::HASH, 'rate' => 44100, 'at' => $chance->getInt(0, 9000), 'from' => 0, 'to' => $chance->getInt(500, 90_000)],
            ['type' => 'set-clips', 'clips' => [['id' => $clip, 'at' => $chance->getInt(0, 9000)]]],
            ['type' => 'split-clip', 'clip' => $clip, 'id' => 'k9', 'at' => $chance->getInt(0, 9000)],
            ['type' => 'remove-track', 'track' => 'track-'.$chance->getInt(1, 2)],
            ['type' => 'set-marker', 'id' => 'n1', 'name' => 'Rain stops', 'at' => $chance->getInt(0, 9000)],
            ['type' => 'set-song', 'sections' => 0 === $chance->getInt(0, 1) ? ['s1'] : ['s1', 's1']],
        ][$chance->getInt(0, 17)];
    }
}
