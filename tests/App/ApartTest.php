<?php

namespace Pestle\Tests\App;

use Pestle\App\Apart\TakeApart;
use Pestle\App\Apart\TakenApart;
use Pestle\App\Entity\Sample;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Page\ApartPage;
use Pestle\App\Queue\Work;
use Pestle\App\Storage\Beats;
use Pestle\App\Storage\Space;
use Pestle\Core\Apart\RecordingPart;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Sample\EditKind;
use Pestle\Core\Theory\Key;
use PHPUnit\Framework\Attributes\Depends;

/** A recording is taken apart in the background, heard while it is, given up and gone on with, and what follows is a press. */
final class ApartTest extends AppCase
{
    private static Sample $song;

    public static function setUpBeforeClass(): void
    {
        parent::setUpBeforeClass();
        self::ask('POST', '/beats');
        self::$song = self::sample('Harbour song', self::drums(array_map(static fn (int $k): float => 0.6 * $k, range(0, 21)), 13.2));
        self::work();
    }

    public function testItIsBegunHeardGivenUpAndGoneOnWith(): void
    {
        $at = '/samples/'.self::$song->hash.'/apart';
        self::assertSame(['state' => 'none', 'done' => 0], array_intersect_key(self::json(self::ask('GET', $at)), ['state' => 1, 'done' => 1]));
        self::assertSame('waits', self::json(self::ask('POST', $at))['state']);
        self::assertSame('waits', self::json(self::ask('POST', $at))['state'], 'Asked for twice it is one job.');
        self::assertCount(1, self::service(Work::class)->all());
        self::assertStringContainsString('Taking Harbour song apart', (string) self::ask('GET', '/jobs')->getContent());

        // A worker that is at it ends after the first piece.
        $apart = self::service(TakenApart::class);
        try {
            $apart->files(self::$song)->make(static fn (float $done) => throw new \LogicException('It ends.'));
        } catch (\LogicException) {
        }
        $now = self::json(self::ask('DELETE', $at.'/job'));
        self::assertSame('stopped', $now['state']);
        self::assertGreaterThan(400_000, $now['done']);
        self::assertIsArray($now['sure']);
        self::assertSame('high', $now['sure']['drums'], 'Nothing but drums is in it.');
        self::assertCount(0, self::service(Work::class)->all());

        $sound = (string) self::ask('GET', $at.'/sound/drums?from=44100')->getContent();
        self::assertGreaterThan(8 * 9 * 44100, \strlen($sound), 'Ten seconds are sent at once.');
        self::assertGreaterThan(0, \strlen(trim(substr($sound, 200, 100_000), "\0")));
        $outline = (string) self::ask('GET', $at.'/outline')->getContent();
        self::assertSame(4 * 431, \strlen($outline));
        self::assertSame(4 * 31, \strlen((string) self::ask('GET', $at.'/outline?from=400')->getContent()));
        self::assertSame(404, self::ask('GET', $at.'/sound/kazoo')->getStatusCode());

        self::assertSame('waits', self::json(self::ask('POST', $at))['state']);
        self::work();
        $done = self::json(self::ask('GET', $at));
        self::assertSame('done', $done['state']);
        self::assertSame(self::$song->frames, $done['done']);
    }

    #[Depends('testItIsBegunHeardGivenUpAndGoneOnWith')]
    public function testItBecomesFourSamplesThatAreItAgainAndKnowWhatItKnows(): void
    {
        $parts = self::service(TakenApart::class)->state(self::$song)->samples;
        self::assertSame(['drums', 'bass', 'melody', 'voice'], array_keys($parts));
        $library = self::service(SampleStore::class)->library();
        $sum = array_fill(0, self::$song->frames, 0.0);
        foreach ($parts as $name => $sample) {
            self::assertSame('Harbour song, '.$name, $sample->name);
            self::assertSame(self::$song->bpm(), $sample->bpm());
            self::assertSame(self::$song->lines(), $sample->lines());
            self::assertContains('taken apart', $sample->tags);
            foreach (SoundFile::open($library->path($sample->hash))->read(0, self::$song->frames)->left as $i => $x) {
                $sum[$i] += $x;
            }
        }
        self::assertSame(SoundFile::open($library->path(self::$song->hash))->read(0, self::$song->frames)->left, $sum);
        self::assertSame([], glob(self::$data.'/apart/'.self::$song->hash.'/*.wav'), 'Nothing lies on the disk twice.');

        // Handed out once more nothing is made again; and what is made can still be heard.
        self::ask('POST', '/samples/'.self::$song->hash.'/apart');
        self::work();
        self::assertEquals(array_map(static fn (Sample $s): string => $s->hash, $parts), array_map(static fn (Sample $s): string => $s->hash, self::service(TakenApart::class)->state(self::$song)->samples));
        $plain = (string) self::ask('GET', '/samples/'.self::$song->hash.'/apart/sound/drums?frames=20000')->getContent();
        $turned = (string) self::ask('GET', '/samples/'.self::$song->hash.'/apart/sound/drums?frames=20000&treated='.rawurlencode('[{"kind":"reverse"}]'))->getContent();
        self::assertSame(\strlen($plain), \strlen($turned));
        self::assertNotSame($plain, $turned);
    }

    #[Depends('testItBecomesFourSamplesThatAreItAgainAndKnowWhatItKnows')]
    public function testWhatFollowsIsAPress(): void
    {
        $beats = self::service(Beats::class);
        $record = $beats->all()[0];
        $page = self::ask('GET', "/beats/{$record->id}/chop?tool=apart&sample=".self::$song->hash, headers: ['Accept' => 'text/html']);
        self::assertSame(200, $page->getStatusCode());
        self::assertStringContainsString('All of it is taken apart', (string) $page->getContent());
        $beat = $beats->content($record)->with(['key' => Key::named('D minor')]);
        $state = self::service(TakenApart::class)->state(self::$song);
        $parts = $state->samples;
        $do = static fn (?array $change, Beat $beat): Beat => Changes::read($change ?? self::fail('Nothing to press.'))->apply($beat);

        $cut = $do((new ApartPage($state, $beat))->sliced(), $beat);
        self::assertGreaterThan(15, \count($cut->slices[$parts['drums']->hash]->markers));

        $onPads = $do((new ApartPage($state, $beat))->ontoPads(), $beat);
        self::assertSame(array_map(static fn (Sample $s): string => $s->hash, array_values($parts)), array_map(static fn ($pad): string => $pad->main()->sample, array_values($onPads->kit->pads)));

        $line = (new ApartPage($state, $beat))->ontoTheLine() ?? self::fail('Nothing to press.');
        $laid = $do($line['change'], $beat);
        self::assertCount(4, $laid->clips);
        self::assertSame(['Drums', 'Bass', 'Melody', 'Voice'], array_map(static fn ($track): string => $track->name, array_values($laid->tracks)));
        self::assertCount(1, array_unique(array_column($laid->clips, 'at')), 'All begin at one place.');
        $lasts = array_sum(array_map(static fn ($entry): int => $entry->repeats * $laid->section($entry->section)->lengthTicks($laid->patterns), $laid->song));
        self::assertGreaterThanOrEqual(13.2 * $laid->tempo->bpm / 60.0 * 960 * 0.9, $lasts, 'The song lasts as long as they do.');
        self::assertSame(\count($laid->song), \count(Changes::read([...$line['change'], 'at' => 0])->apply($laid)->song), 'Where it does already it stays as it is.');
        self::assertCount(1, array_unique(array_map(static fn ($edits): string => $edits->query(), [$laid->edits[$parts['bass']->hash], $laid->edits[$parts['voice']->hash]])), 'And keep the same time.');
        self::assertSame(EditKind::InTime, $laid->edits[$parts['drums']->hash]->list[0]->kind);

        $converted = $do((new ApartPage($state, $beat))->converted(RecordingPart::Bass), $beat);
        $after = new ApartPage($state, $converted);
        self::assertTrue($after->isConverted(RecordingPart::Bass));
        $both = $do($after->ontoTheLine()['change'] ?? null, $converted)->edits[$parts['bass']->hash]->list;
        self::assertSame([EditKind::InTime, EditKind::Converter], array_map(static fn ($edit): EditKind => $edit->kind, $both), 'Its colour goes along into the song.');
        self::assertFalse($after->isConverted(RecordingPart::Drums));
        self::assertEquals($beat->edits, $do($after->converted(RecordingPart::Bass), $converted)->edits, 'Pressed again it is off.');
        $inRoom = $do((new ApartPage($state, $beat))->inRoom(), $beat);
        self::assertTrue((new ApartPage($state, $inRoom))->isInRoom());
        self::assertEquals($beat->edits, $do((new ApartPage($state, $inRoom))->inRoom(), $inRoom)->edits);
    }

    /** A part that is taken out of the library: it can be taken apart anew. What is thrown away is gone. */
    #[Depends('testWhatFollowsIsAPress')]
    public function testItCanBeTakenApartAnew(): void
    {
        $apart = self::service(TakenApart::class);
        $voice = $apart->state(self::$song)->samples['voice'];
        $voice->clearedAt = new \DateTimeImmutable();
        self::assertNotSame('done', $apart->state(self::$song)->name());
        self::ask('DELETE', '/samples/'.self::$song->hash.'/apart');
        self::assertSame('none', self::json(self::ask('GET', '/samples/'.self::$song->hash.'/apart'))['state']);
        self::assertDirectoryDoesNotExist(self::$data.'/apart/'.self::$song->hash);
    }

    /** What was given up takes space, and gives it back where nothing is at work on it. */
    public function testHalvesAreClearedAndNotWhatIsUnderWay(): void
    {
        $half = self::sample('Half a song', self::drums(array_map(static fn (int $k): float => 0.7 * $k, range(0, 17)), 12.5));
        self::work();
        try {
            self::service(TakenApart::class)->files($half)->make(static fn (float $done) => throw new \LogicException('It ends.'));
        } catch (\LogicException) {
        }
        $space = self::service(Space::class);
        $bytes = static fn (): int => array_column($space->parts(), 'bytes', 'id')['apart'];
        self::assertGreaterThan(10_000_000, $bytes());
        self::service(Work::class)->hand(new TakeApart($half->hash));
        self::assertSame(0, $space->clear('apart'), 'It is waited for.');
        self::service(TakenApart::class)->giveUp($half);
        self::assertGreaterThan(10_000_000, $space->clear('apart'));
        self::assertSame('none', self::service(TakenApart::class)->state($half)->name());
    }

    /** Where it cannot go on it is told, and what was done stays. */
    public function testAFailureIsTold(): void
    {
        $lost = self::sample('Lost song', self::drums([0.0, 0.5], 1.2));
        self::work();
        unlink(self::service(SampleStore::class)->library()->path($lost->hash));
        self::service(Work::class)->hand(new TakeApart($lost->hash));
        self::work();
        $state = self::json(self::ask('GET', "/samples/{$lost->hash}/apart"));
        self::assertSame('stopped', $state['state']);
        self::assertStringContainsString('Lost song', self::text($state['problem']));
    }
}
