<?php

namespace Pestle\Tests\App;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\DriverManager;
use Pestle\App\Deliver\Deliveries;
use Pestle\App\Entity\Delivery;
use Pestle\App\Queue\Work;
use Pestle\App\Storage\Beats;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Exchange\DeliveryOrder;
use Pestle\Core\Exchange\PackedAs;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Entry;
use Pestle\Tests\Core\Render\RandomBeats;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Component\HttpFoundation\Response;

/** What can be stored can be read again, what can't is refused with a sentence, and one thing that broke harms nothing else. */
final class LimitsTest extends AppCase
{
    private static int $beat;
    private static string $hash;

    public static function setUpBeforeClass(): void
    {
        parent::setUpBeforeClass();
        $path = Sounds::folder().'/a.wav';
        $writer = new WavWriter($path, 44100, SampleFormat::Int16);
        $writer->write(Sounds::hit(3, 22050));
        $writer->close();
        $state = self::upload('Knock.wav', (string) file_get_contents($path));
        self::assertIsArray($state['sample']);
        self::$hash = self::text($state['sample']['hash']);
        $beat = RandomBeats::changed(Beat::empty('Limits'), [['type' => 'fill-pad', 'pad' => 'a0', 'sample' => self::$hash, 'name' => 'Knock', 'role' => 'kick', 'start' => 0, 'end' => 22050], ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 100]]]]);
        self::$beat = self::service(Beats::class)->add($beat)->id;
    }

    /** @return iterable<string, array{array<string, mixed>, string}> */
    public static function tooMuch(): iterable
    {
        $fill = ['type' => 'fill-pad', 'pad' => 'a1', 'name' => 'Far', 'role' => 'kick', 'start' => 0];
        yield 'too many hits' => [['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => array_map(static fn (int $i): array => [$i % 7680, 'a0', 90], range(0, 20_000))], 'hits must be a list of at most 20,000 entries.'];
        yield 'a marker at the end of all numbers' => [['type' => 'set-slices', 'sample' => 'HASH', 'markers' => [0, \PHP_INT_MAX]], 'markers must be a whole number'];
        yield 'a marker beyond the sample' => [['type' => 'set-slices', 'sample' => 'HASH', 'markers' => [0, 30_000]], 'markers must lie within the sample.'];
        yield 'an edit from the end of all numbers' => [['type' => 'set-edits', 'sample' => 'HASH', 'frames' => 22050, 'edits' => [['kind' => 'reverse', 'from' => \PHP_INT_MAX]]], 'from must be a whole number'];
        yield 'fifty repeats' => [['type' => 'set-edits', 'sample' => 'HASH', 'frames' => 22050, 'edits' => array_fill(0, 50, ['kind' => 'repeat'])], 'longer than can be worked with'];
        yield 'a sample that is not there' => [[...$fill, 'sample' => str_repeat('ab', 32), 'end' => 100], 'Far: this sample is not in the library.'];
        yield 'an end far away' => [[...$fill, 'sample' => 'HASH', 'end' => 10 ** 18], 'end must be a whole number'];
        yield 'an end after the sample' => [[...$fill, 'sample' => 'HASH', 'end' => 22051], 'end must lie within the sample of Far, which has 22,050 frames.'];
        yield 'sounds without end' => [['type' => 'land-sounds', 'pad' => 'a1', 'how' => 'free', 'sounds' => [['sample' => 'HASH', 'name' => 'x', 'role' => 'kick', 'peakDb' => 0, 'frames' => \PHP_INT_MAX]]], 'frames must be a whole number'];
        yield 'edits of another length' => [['type' => 'set-edits', 'sample' => 'HASH', 'frames' => 22050, 'edits' => [['kind' => 'in-time', 'bpm' => 90, 'places' => '0 0 20000 2', 'follow' => 1, 'frames' => 99, 'rate' => 44100]]], 'frames must be those of the sample: 22050.'];
    }

    public function testAFullDiskAndOneThatCannotBeWrittenAreSaidAndLoseNothing(): void
    {
        $database = self::service(Connection::class);
        $record = self::service(Beats::class)->find(self::$beat) ?? self::fail('No beat.');
        $rename = static fn (string $name): Response => self::change(self::$beat, self::service(Beats::class)->find(self::$beat)->head ?? 0, ['type' => 'rename-beat', 'name' => $name]);
        $pages = $database->fetchOne('PRAGMA page_count');
        $database->executeStatement('PRAGMA max_page_count = '.(is_numeric($pages) ? (int) $pages : 0));
        // What fills the last page and more.
        $full = self::change(self::$beat, $record->head, ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => array_map(static fn (int $i): array => [$i % 7680, 'a0', 1 + $i % 127], range(0, 9000))]);
        self::assertSame(507, $full->getStatusCode());
        self::assertStringContainsString('The disk is full. Nothing of this was stored', self::text(self::json($full)['error']));
        $database->executeStatement('PRAGMA max_page_count = 1073741823');
        $database->executeStatement('PRAGMA query_only = 1');
        $refused = $rename('Unwritten');
        self::assertSame(507, $refused->getStatusCode());
        self::assertStringContainsString('The data folder cannot be written', self::text(self::json($refused)['error']));
        $database->executeStatement('PRAGMA query_only = 0');
        self::assertSame('Limits', self::service(Beats::class)->find(self::$beat)?->name);
        self::assertSame(200, $rename('Limits again')->getStatusCode());
        self::assertSame(200, $rename('Limits')->getStatusCode());
    }

    public function testADeliveryEndsWithItsBeatOrItsWorkAndIsOrderedAgain(): void
    {
        $beat = self::service(Beats::class)->content(self::service(Beats::class)->find(self::$beat) ?? self::fail('No beat.'));
        $id = self::service(Beats::class)->add($beat)->id;
        $order = ['what' => 'beat', 'format' => '16', 'stems' => 'none'];
        $one = self::json(self::ask('POST', "/beats/$id/deliveries", $order));
        self::ask('POST', "/beats/$id/delete", []);
        self::work();
        $state = self::json(self::ask('GET', '/deliveries/'.self::whole($one['id'])));
        self::assertSame(['cancelled', 'Cancelled, as its beat was deleted.'], [$state['state'], $state['message']]);
        self::ask('POST', "/beats/$id/restore", []);
        $page = (string) self::ask('GET', "/beats/$id/deliver", null, ['Accept' => 'text/html'])->getContent();
        self::assertMatchesRegularExpression('/Cancelled, as its beat was deleted\..*name="format" value="16".*Deliver again/s', $page);
        // One whose worker could store nothing, not even that it failed.
        $two = self::json(self::ask('POST', "/beats/$id/deliveries", $order));
        self::assertSame('waiting', self::json(self::ask('GET', '/deliveries/'.self::whole($two['id'])))['state']);
        (new \PDO('sqlite:'.self::$data.'/queue.sqlite'))->exec('DELETE FROM job');
        $state = self::json(self::ask('GET', '/deliveries/'.self::whole($two['id'])));
        self::assertSame('failed', $state['state']);
        self::assertStringContainsString('the disk may have been full', self::text($state['message']));
    }

    public function testWhatFindsNoPlaceOnTheDiskIsRefusedBeforeItIsBegun(): void
    {
        $sections = array_map(static fn (int $i): array => ['type' => 'add-section', 'id' => 'x'.$i, 'name' => 'Section '.$i, 'copyOf' => 's1'], range(0, 20));
        $beat = RandomBeats::changed(self::service(Beats::class)->content(self::service(Beats::class)->find(self::$beat) ?? self::fail('No beat.')), [['type' => 'set-tempo', 'bpm' => 30], ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => Pattern::MAX_BARS], ...$sections]);
        $whole = DeliveryOrder::from(new Fields(['what' => 's1', 'format' => '32f', 'stems' => 'channel']));
        // 64 bars of four quarters at 30 a minute are 512 s; a mix and one stem.
        self::assertSame([512 * 44100, 2 * 8 * 512 * 44100], [$whole->frames($beat), $whole->mostBytes($beat)]);
        self::assertSame([2, 6 * 512 * 44100 + 512 * 44100], [(new DeliveryOrder('s1', also: [PackedAs::Flac]))->mostBytes($beat) / (new DeliveryOrder('s1'))->mostBytes($beat), (new DeliveryOrder('s1', also: [PackedAs::Mp3]))->mostBytes($beat)]);
        $free = (int) disk_free_space(self::$data);
        $much = RandomBeats::changed($beat, [['type' => 'set-song', 'sections' => array_map(static fn (int $i): string => 'x'.$i % 21, range(0, Beat::MAX_SONG - 1))]]);
        $much = $much->with(['song' => array_map(static fn (Entry $e): Entry => $e->with(['repeats' => 64]), $much->song)]);
        $takes = (new DeliveryOrder(null, false, SampleFormat::Float32))->mostBytes($much);
        $id = self::service(Beats::class)->add($much)->id;
        $answer = self::ask('POST', "/beats/$id/deliveries", ['what' => 'beat', 'format' => '32f', 'stems' => 'none']);
        self::assertGreaterThan($free, 2 * $takes, 'this machine has room for more than the test makes');
        self::assertSame(422, $answer->getStatusCode());
        self::assertMatchesRegularExpression('/This takes up to [\d.]+ GB, and as much again while it is packed/', self::text(self::json($answer)['error']));
        self::assertSame([], self::service(Deliveries::class)->of(self::service(Beats::class)->find($id) ?? self::fail('No beat.')));
    }

    /** Numbers beyond all sense end as loud sound, and as words, not as work without end. */
    public function testFloatsOfAnySizeAreTakenInAndTold(): void
    {
        $values = '';
        for ($i = 0; $i < 4000; ++$i) {
            $values .= pack('e', [1e300, -1e300, \INF, -\INF, \NAN, 1e-310, 3e4, 0.5][$i % 8]);
        }
        $state = self::upload('Huge.wav', 'RIFF'.pack('V', 36 + \strlen($values)).'WAVEfmt '.pack('VvvVVvv', 16, 3, 1, 44100, 44100 * 8, 8, 64).'data'.pack('V', \strlen($values)).$values);
        self::assertSame('done', $state['state'], self::text($state['message']));
        self::assertIsArray($state['sample']);
        self::assertTrue($state['sample']['heard']);
        self::assertEqualsWithDelta(48.16, $state['sample']['peakDb'], 0.01);
        $beat = self::$beat;
        $page = (string) self::ask('GET', "/beats/$beat/gather?sample=".self::text($state['sample']['hash']), null, ['Accept' => 'text/html'])->getContent();
        self::assertStringContainsString('values of more than 48 dB above full scale are cut there', $page);
    }

    private static function whole(mixed $value): int
    {
        self::assertIsInt($value);

        return $value;
    }

    /** @param array<string, mixed> $change */
    #[DataProvider('tooMuch')]
    public function testWhatPassesALimitIsRefusedAndNamed(array $change, string $sentence): void
    {
        array_walk_recursive($change, static function (mixed &$value): void {
            $value = 'HASH' === $value ? self::$hash : $value;
        });
        $beats = self::service(Beats::class);
        $head = $beats->find(self::$beat)?->head;
        $answer = self::ask('POST', '/beats/'.self::$beat.'/changes', $change, ['X-Pestle-Head' => 'newest']);
        self::assertSame(422, $answer->getStatusCode(), (string) $answer->getContent());
        self::assertStringContainsString($sentence, self::text(self::json($answer)['error']));
        self::assertSame($head, $beats->find(self::$beat)->head ?? 0);
    }

    public function testABeatNeverHasMorePatternsThanCanBeRead(): void
    {
        $beats = self::service(Beats::class);
        $patterns = [];
        foreach (range(1, Beat::MAX_PATTERNS) as $n) {
            $patterns['p'.$n] = Pattern::empty('p'.$n, 'Pattern '.$n, 'part-1', 3840);
        }
        $record = $beats->add(Beat::empty('Full')->with(['patterns' => $patterns]));
        self::assertCount(Beat::MAX_PATTERNS, $beats->content($record)->patterns);
        $answer = self::change($record->id, $record->head, ['type' => 'add-pattern', 'id' => 'one-more', 'name' => 'One more']);
        self::assertSame('A beat has at most 500 patterns: delete one first.', self::json($answer)['error']);
    }

    public function testAnUnreadableBeatIsShownAsSuchAndComesBack(): void
    {
        $beats = self::service(Beats::class);
        $record = $beats->add(Beat::empty('Bent'));
        self::change($record->id, 1, ['type' => 'set-tempo', 'bpm' => 111]);
        self::change($record->id, 2, ['type' => 'set-tempo', 'bpm' => 122]);
        $database = DriverManager::getConnection(['driver' => 'pdo_sqlite', 'path' => self::$data.'/pestle.sqlite']);
        $database->executeStatement("UPDATE revision SET manifest = json_set(manifest, '$.kit', 'gone') WHERE beat_id = ? AND number = 3", [$record->id]);
        foreach (['/', '/beats/'.self::$beat.'/gather', '/beats/'.self::$beat.'/pattern'] as $page) {
            self::assertSame(200, self::ask('GET', $page, null, ['Accept' => 'text/html'])->getStatusCode(), $page);
        }
        self::assertStringContainsString('Bent cannot be read as it was stored last', (string) self::ask('GET', '/', null, ['Accept' => 'text/html'])->getContent());
        $own = self::ask('GET', "/beats/$record->id/pattern", null, ['Accept' => 'text/html']);
        self::assertSame(422, $own->getStatusCode());
        self::assertStringContainsString("/beats/$record->id/recover", (string) $own->getContent());
        self::assertSame(303, self::ask('POST', "/beats/$record->id/recover")->getStatusCode());
        $back = $beats->find($record->id) ?? self::fail('gone');
        self::assertSame([4, 111.0], [$back->head, $beats->content($back)->tempo->bpm]);
    }

    public function testADeliveryThatIsCancelledStaysSo(): void
    {
        $deliveries = self::service(Deliveries::class);
        $record = self::service(Beats::class)->find(self::$beat) ?? self::fail('gone');
        [$delivery] = $deliveries->order($record, ['what' => 'beat', 'format' => '16', 'stems' => 'none']);
        $delivery->state = Delivery::RUNNING;
        // Somebody else cancels it while it is proven and packed.
        DriverManager::getConnection(['driver' => 'pdo_sqlite', 'path' => self::$data.'/pestle.sqlite'])->executeStatement("UPDATE delivery SET state = 'cancelled' WHERE id = ?", [$delivery->id]);
        self::assertFalse($deliveries->finish($delivery));
        self::assertSame(Delivery::CANCELLED, $delivery->state);
        // Or before it has begun, while a worker holds it in its hands already.
        [$early] = $deliveries->order($record, ['what' => 'beat', 'format' => '16', 'stems' => 'none']);
        DriverManager::getConnection(['driver' => 'pdo_sqlite', 'path' => self::$data.'/pestle.sqlite'])->executeStatement("UPDATE delivery SET state = 'cancelled' WHERE id = ?", [$early->id]);
        self::assertSame(Delivery::WAITING, $early->state);
        self::assertFalse($deliveries->begin($early));
        self::assertSame(Delivery::CANCELLED, $early->state);
    }

    public function testWhatWasStoredWithoutItsWorkIsHandedOutAgain(): void
    {
        self::work();
        $record = self::service(Beats::class)->find(self::$beat) ?? self::fail('gone');
        [$delivery] = self::service(Deliveries::class)->order($record, ['what' => 'beat', 'format' => '16', 'stems' => 'none']);
        $work = self::service(Work::class);
        self::assertSame(0, $work->resume(), 'its work is there');
        $queue = new \PDO('sqlite:'.self::$data.'/queue.sqlite');
        $queue->exec('DELETE FROM job');
        self::assertSame(1, $work->resume());
        self::assertSame(0, $work->resume());
        self::work();
        self::assertSame('done', self::json(self::ask('GET', '/deliveries/'.$delivery->id))['state']);
    }

    public function testWorkThatWasGivenUpIsShownTriedAgainOrLetGo(): void
    {
        self::work();
        $record = self::service(Beats::class)->find(self::$beat) ?? self::fail('gone');
        [$delivery] = self::service(Deliveries::class)->order($record, ['what' => 'beat', 'format' => '16', 'stems' => 'none']);
        $queue = new \PDO('sqlite:'.self::$data.'/queue.sqlite');
        $put = static function () use ($queue): int {
            $queue->exec('UPDATE job SET aside = 1, attempts = 3');
            $rows = $queue->query('SELECT id FROM job') ?: self::fail('no job');

            return (int) (is_numeric($id = $rows->fetchColumn()) ? $id : 0);
        };
        $id = $put();
        $list = static fn (): string => (string) preg_replace('/\s+/', ' ', strip_tags((string) self::ask('GET', '/jobs')->getContent()));
        self::assertStringContainsString('1 given up', $list());
        self::assertStringContainsString('Delivering Limits'.Work::GIVEN_UP, $list());
        self::work();
        self::assertSame('waiting', self::json(self::ask('GET', '/deliveries/'.$delivery->id))['state'], 'nobody begins it by itself');
        self::assertStringContainsString('begun three times', self::text(self::json(self::ask('GET', '/deliveries/'.$delivery->id))['message']));
        self::assertSame(200, self::ask('POST', "/jobs/$id/again")->getStatusCode());
        self::assertStringContainsString('1 at work', $list());
        self::assertStringContainsString('waits', $list());
        $id = $put();
        self::ask('POST', "/jobs/$id/let-go");
        $state = self::json(self::ask('GET', '/deliveries/'.$delivery->id));
        self::assertSame('failed', $state['state']);
        self::assertStringContainsString('begun three times', self::text($state['message']));
        self::assertSame([], self::service(Work::class)->all());
        self::assertStringContainsString('Nothing is at work', $list());
        // What only waits is called off as wished.
        [$delivery] = self::service(Deliveries::class)->order($record, ['what' => 'beat', 'format' => '16', 'stems' => 'none']);
        self::ask('POST', '/jobs/'.self::service(Work::class)->all()[0]->id.'/let-go');
        self::assertSame('cancelled', self::json(self::ask('GET', '/deliveries/'.$delivery->id))['state']);
        self::assertSame(200, self::ask('POST', '/jobs/999999/let-go')->getStatusCode(), 'what is done meanwhile is gone');
    }

    public function testSpaceIsShownAndGivenBack(): void
    {
        $record = self::service(Beats::class)->find(self::$beat) ?? self::fail('gone');
        [$delivery] = self::service(Deliveries::class)->order($record, ['what' => 'beat', 'format' => '16', 'stems' => 'none']);
        self::work();
        $folder = self::$data.'/deliveries/'.$delivery->id;
        self::assertDirectoryExists($folder);
        self::assertStringContainsString('Delivered files', (string) self::ask('GET', '/space', null, ['Accept' => 'text/html'])->getContent());
        $answer = self::ask('POST', '/space/deliveries');
        self::assertSame(1, preg_match('/freed=(\d+)$/', (string) $answer->headers->get('Location'), $freed));
        self::assertGreaterThan(1000, (int) ($freed[1] ?? 0));
        self::assertDirectoryDoesNotExist($folder);
        // A sample that no version of a beat uses goes with its files once it is taken out; one that is used stays.
        $path = Sounds::folder().'/b.wav';
        $writer = new WavWriter($path, 44100, SampleFormat::Int16);
        $writer->write(Sounds::hit(5, 30000));
        $writer->close();
        $state = self::upload('Unused.wav', (string) file_get_contents($path));
        self::assertIsArray($state['sample']);
        $unused = self::text($state['sample']['hash']);
        self::ask('POST', '/library/clear', []);
        $file = static fn (string $hash): string => self::$data.'/samples/'.substr($hash, 0, 2)."/$hash.wav";
        self::assertFileExists($file($unused));
        self::ask('POST', '/space/cleared');
        self::assertFileDoesNotExist($file($unused));
        self::assertFileExists($file(self::$hash));
        self::assertSame(404, self::ask('POST', '/space/beats')->getStatusCode());
        // So do deleted beats; those in the list keep every version.
        $beats = self::service(Beats::class);
        $gone = $beats->add(Beat::empty('Gone for good'));
        $beats->setDeleted($gone, true);
        $id = $gone->id;
        self::ask('POST', '/space/deleted');
        self::assertNull($beats->find($id));
        $kept = $beats->find(self::$beat) ?? self::fail('gone');
        self::assertSame('Limits', $beats->content($kept, 1)->name);
    }

    public function testOthersSitesMakeNothingBeWorkedOut(): void
    {
        $path = '/samples/'.self::$hash.'/sound?edits='.rawurlencode('[{"kind":"stretch","percent":120}]');
        self::assertSame(403, self::ask('GET', $path, null, ['Sec-Fetch-Site' => 'cross-site', 'Sec-Fetch-Mode' => 'no-cors'])->getStatusCode());
        self::assertSame(403, self::ask('GET', $path, null, ['Sec-Fetch-Site' => 'cross-site', 'Sec-Fetch-Mode' => 'navigate'])->getStatusCode());
        self::assertSame(200, self::ask('GET', '/', null, ['Sec-Fetch-Site' => 'cross-site', 'Sec-Fetch-Mode' => 'navigate', 'Accept' => 'text/html'])->getStatusCode(), 'a link opens Pestle');
        $grid = self::ask('POST', '/library/'.self::$hash, ['grid' => '[90, [0, -1e308, 0]]']);
        self::assertSame(422, $grid->getStatusCode());
        self::assertSame(422, self::ask('GET', '/samples/'.self::$hash.'/sounding?edits='.rawurlencode((string) json_encode(array_fill(0, 50, ['kind' => 'repeat']))))->getStatusCode());
    }
}
