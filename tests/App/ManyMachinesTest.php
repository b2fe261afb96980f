<?php

namespace Pestle\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use League\Flysystem\FilesystemException;
use Pestle\App\Deliver\Deliveries;
use Pestle\App\Deliver\MakeDelivery;
use Pestle\App\Entity\Delivery;
use Pestle\App\Gather\Listening;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Machines\Board;
use Pestle\App\Machines\Errand;
use Pestle\App\Machines\Keeper;
use Pestle\App\Machines\MachineSettings;
use Pestle\App\Machines\QueueAway;
use Pestle\App\Machines\Redis;
use Pestle\App\Machines\RedisStream;
use Pestle\App\Machines\Report;
use Pestle\App\Machines\SharedFiles;
use Pestle\App\Machines\Worker;
use Pestle\App\Queue\JobRow;
use Pestle\App\Queue\JobState;
use Pestle\App\Queue\Work;
use Pestle\App\Storage\Beats;
use Pestle\App\Task\Bench;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Exchange\DeliveryOrder;
use Pestle\Tests\Core\Render\RandomBeats;
use Pestle\Tests\Core\Sounds;
use Symfony\Component\Messenger\Envelope;

/** Work shared by many machines, through a real Redis and a real SFTP server, with workers that have no database. */
final class ManyMachinesTest extends AppCase
{
    private const ORDERS = [
        ['what' => 'p1', 'format' => '24', 'stems' => 'channel', 'dither' => true],
        ['what' => 'p1', 'loop' => true, 'format' => '16', 'stems' => 'none', 'dither' => 'shaped', 'rate' => 48000],
        ['what' => 'beat', 'format' => '32f', 'stems' => 'pad'],
        ['what' => 'beat', 'format' => '16', 'stems' => 'none', 'dither' => true, 'also' => 'flac'],
    ];
    private const DELIVERIES = 20;
    private const LISTENINGS = 40;

    private static Machines $machines;
    private static int $beat;
    /** @var array<string, array{list<mixed>, array<string, string>}> */
    private static array $madeHere = [];

    public static function setUpBeforeClass(): void
    {
        self::$machines = new Machines();
        self::environment(['PESTLE_QUEUE' => self::$machines->queue, 'PESTLE_FILES' => self::$machines->files]);
        parent::setUpBeforeClass();
        $hash = self::sample('Knock', Sounds::hit(3, 22050))->hash;
        $fill = ['type' => 'fill-pad', 'sample' => $hash, 'start' => 0, 'end' => 20000];
        $beat = RandomBeats::changed(Beat::empty('Shared'), [
            ['type' => 'set-tempo', 'bpm' => 120], ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 1],
            [...$fill, 'pad' => 'a0', 'name' => 'Knock', 'role' => 'kick'], [...$fill, 'pad' => 'a1', 'name' => 'Knock', 'role' => 'snare'],
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 120], [960, 'a1', 100]]],
        ]);
        self::$beat = self::service(Beats::class)->add($beat)->id;
    }

    public static function tearDownAfterClass(): void
    {
        self::$machines->stop();
        self::environment(['PESTLE_QUEUE' => '', 'PESTLE_FILES' => '']);
        parent::tearDownAfterClass();
    }

    /**
     * Twenty deliveries and forty listenings by three machines, each with a folder of its own; workers are killed, the queue
     * loses all it knows, the keeper ends in the middle.
     */
    public function testAllIsDoneOnceWhateverEnds(): void
    {
        for ($n = 0; $n < self::DELIVERIES; ++$n) {
            self::service(Deliveries::class)->order(self::service(Beats::class)->find(self::$beat) ?? self::fail(), self::ORDERS[$n % \count(self::ORDERS)]);
        }
        $hashes = [];
        for ($n = 0; $n < self::LISTENINGS; ++$n) {
            $path = Sounds::folder().'/one.wav';
            WavWriter::copy(new MemorySource(Sounds::hit(100 + $n, 4000 + 300 * $n), 44100), $path, SampleFormat::Int16);
            $hashes[] = self::service(SampleStore::class)->add($path, "One $n.wav", [])->hash;
        }
        self::assertSame([], self::lane('long'), 'nobody here takes what others do');
        self::assertCount(self::DELIVERIES + self::LISTENINGS, self::service(Work::class)->all());

        foreach (['one', 'two', 'three'] as $name) {
            self::$machines->startWorker($name);
        }
        self::$machines->startKeeper(self::$data);
        $ends = [
            50 => static fn () => self::assertSame(3, self::$machines->killWorkersOf('one')),
            40 => static function (): void {
                self::$machines->kill('redis');
                self::$machines->startRedis();
            },
            30 => static fn () => self::assertSame(3, self::$machines->killWorkersOf('two')),
            20 => static function (): void {
                self::$machines->kill('keeper');
                self::$machines->startKeeper(self::$data);
            },
            10 => static fn () => self::assertSame(3, self::$machines->killWorkersOf('three')),
        ];
        $seen = [];
        $until = microtime(true) + 300.0;
        while ([] !== $jobs = self::service(Work::class)->all()) {
            self::assertLessThan($until, microtime(true), 'Lost: '.json_encode([$jobs, self::$machines->logs()]));
            foreach ($jobs as $job) {
                null === $job->machine() || $seen[$job->machine()] = true;
                self::assertNotSame(JobState::Aside, $job->state);
            }
            foreach ($ends as $left => $end) {
                if (\count($jobs) <= $left) {
                    $end();
                    unset($ends[$left]);
                }
            }
            usleep(100_000);
        }
        self::assertSame([], $ends, 'all of that happened');
        self::assertGreaterThan(1, \count($seen));

        self::service(EntityManagerInterface::class)->clear();
        $deliveries = self::service(EntityManagerInterface::class)->getRepository(Delivery::class)->findBy(['beatId' => self::$beat], ['id' => 'ASC']);
        self::assertSame(array_fill(0, self::DELIVERIES, Delivery::DONE), array_map(static fn (Delivery $d): string => $d->state, $deliveries));
        foreach ($deliveries as $n => $delivery) {
            [$said, $files] = self::madeHere(self::ORDERS[$n % \count(self::ORDERS)], $delivery->title);
            self::assertSame($said, [$delivery->archive, $delivery->message, $delivery->files, round($delivery->lufs ?? 0.0, 9)]);
            self::assertSame($files, self::archived(self::service(Deliveries::class)->folder($delivery).'/'.$delivery->archive), 'the bits are those of one machine');
        }
        foreach ($hashes as $hash) {
            $sample = self::service(SampleStore::class)->find($hash);
            self::assertEquals(Listening::to(SoundFile::open(self::service(SampleStore::class)->library()->path($hash))), $sample?->heard());
        }
        self::assertSame([], glob(self::$data.'/scratch/*'));
        foreach (['one', 'two', 'three'] as $name) {
            self::assertFileDoesNotExist(self::$machines->folder.'/'.$name.'/pestle.sqlite');
        }
    }

    /** What is called off goes no further, a page that asks is told who works, and what three workers ended at is put aside. */
    #[\PHPUnit\Framework\Attributes\Depends('testAllIsDoneOnceWhateverEnds')]
    public function testWhatOthersDoIsListedCalledOffAndGivenUp(): void
    {
        self::$machines->kill('keeper');
        foreach (['one', 'two', 'three'] as $name) {
            self::$machines->kill($name);
            self::$machines->killWorkersOf($name);
        }
        $keeper = self::service(Keeper::class);
        $redis = new Redis(self::$machines->queue);
        $board = new Board($redis);
        $home = hash_hmac('sha256', 'home', (string) file_get_contents(self::$data.'/secret'));
        while ($keeper->turn()) {
            // What was left is settled.
        }
        self::assertSame([], $board->out($home));
        $stream = static fn (string $lane, string $who): RedisStream => new RedisStream($redis, Board::lane($lane), $who, 0.0);
        while (null !== $left = $stream('deliver', 'cleaner')->next()) {
            $stream('deliver', 'cleaner')->done($left[0], 0.0);
        }
        [$delivery] = self::service(Deliveries::class)->order(self::service(Beats::class)->find(self::$beat) ?? self::fail(), self::ORDERS[0]);
        self::assertTrue($keeper->turn());
        self::assertFalse($keeper->turn(), 'it goes out once');
        $job = self::job();
        self::assertSame([JobState::Waiting, null], [$job->state, $job->worker]);

        $taken = $stream('deliver', 'attic:1')->next() ?? self::fail('It is out.');
        $errand = Errand::fromJson($taken[1]);
        self::assertTrue($board->tell($errand, 'attic:1', 0.5));
        $keeper->turn();
        $job = self::job();
        self::assertSame([JobState::Running, 0.5, 'attic'], [$job->state, $job->progress, $job->machine()]);
        self::assertStringContainsString('on attic', (string) self::ask('GET', '/jobs')->getContent());
        self::assertSame(Delivery::RUNNING, self::service(Deliveries::class)->find($delivery->id)->state ?? '');

        // Nobody else gets it while there is life; without, the next one does, and is told how often it was begun.
        self::assertNull((new RedisStream($redis, Board::lane('deliver'), 'loft:2', 60.0))->next());
        $again = $stream('deliver', 'loft:2')->next();
        self::assertSame([$taken[0], $taken[1], 2], $again);
        // Who was slow may still bring it, and whoever is second comes too late.
        $redis->ask(0.0, 'XADD', Board::reports($home), '*', 'body', (new Report($errand->id, givenUp: true))->toJson());
        $redis->ask(0.0, 'XADD', Board::reports($home), '*', 'body', (new Report($errand->id, trouble: 'The disk is full.'))->toJson());
        $redis->ask(0.0, 'XADD', Board::reports($home), '*', 'body', '{"id": "what"}');
        $keeper->turn();
        $job = self::job();
        self::assertSame(JobState::Aside, $job->state);
        self::assertFalse($board->tell($errand, 'loft:2', 0.9), 'it is not wanted any more');

        // Tried again it goes out again; cancelled on its page it is called off as soon as somebody is at it.
        self::service(Work::class)->again($job->id);
        $keeper->turn();
        self::assertTrue($board->tell($errand, 'loft:2', 0.1));
        self::service(Deliveries::class)->cancel(self::service(Deliveries::class)->find($delivery->id) ?? self::fail());
        $keeper->turn();
        self::assertFalse($board->tell($errand, 'loft:2', 0.2));
        self::assertSame([], self::service(Work::class)->all());
        // So is what is let go of in the list.
        self::service(Deliveries::class)->order(self::service(Beats::class)->find(self::$beat) ?? self::fail(), self::ORDERS[0]);
        $keeper->turn();
        self::service(Work::class)->letGo(self::job()->id);
        $keeper->turn();
        self::assertSame([], $board->out($home));

        // Where one would not do, it fails with the words of the one who tried.
        [$delivery] = self::service(Deliveries::class)->order(self::service(Beats::class)->find(self::$beat) ?? self::fail(), self::ORDERS[0]);
        $keeper->turn();
        $id = (string) self::job()->id;
        $redis->ask(0.0, 'XADD', Board::reports($home), '*', 'body', (new Report($id, trouble: "The disk of the loft\nis full."))->toJson());
        $keeper->turn();
        $delivery = self::service(Deliveries::class)->find($delivery->id);
        self::assertSame([Delivery::FAILED, 'The disk of the loft is full.'], [$delivery?->state, $delivery?->message]);
        // What is said to be there and is not, or is another, goes out again.
        self::service(Deliveries::class)->order(self::service(Beats::class)->find(self::$beat) ?? self::fail(), self::ORDERS[0]);
        $keeper->turn();
        $id = (string) self::job()->id;
        $redis->ask(0.0, 'XADD', Board::reports($home), '*', 'body', (new Report($id, "errands/$home/$id/x", ['a.zip' => hash('sha256', 'a')], ['archive' => 'a.zip']))->toJson());
        $keeper->turn();
        self::assertSame([], $board->out($home));
        $keeper->turn();
        self::assertSame([(int) $id => [null, 0.0]], $board->out($home));
        // Without other machines what they were to do is done here.
        self::environment(['PESTLE_QUEUE' => '']);
        self::$kernel->shutdown();
        self::$kernel->boot();
        self::service(Work::class)->resume();
        self::work();
        self::assertSame([], self::service(Work::class)->all());
        self::assertSame(Delivery::DONE, self::service(Deliveries::class)->of(self::service(Beats::class)->find(self::$beat) ?? self::fail())[0]->state);
    }

    /** What takes longer than others wait for a sign of life is not begun by them, as long as there is life. */
    public function testWhoIsAtItGivesSignsOfLife(): void
    {
        $worker = new Worker(new MachineSettings(str_replace('idle=6', 'idle=2', self::$machines->queue), '', 'attic'));
        $errand = new Errand(hash('sha256', 'home'), '7', 'aside', 'listen', [], []);
        $worker->board()->send($errand);
        [$entry] = $worker->lane('aside')->next() ?? self::fail('It is out.');
        $other = new RedisStream(new Redis(self::$machines->queue), Board::lane('aside'), 'loft:2', 2.0);
        $looks = $worker->at($errand->taken($entry, 1), static function () use ($other): int {
            $looks = 0;
            for ($until = microtime(true) + 3.5; microtime(true) < $until; ++$looks) {
                self::assertNull($other->next());
                // No time for anything else.
                hash('sha256', str_repeat('sound', 200_000));
            }

            return $looks;
        });
        self::assertGreaterThan(3, $looks);
        self::assertArrayHasKey($worker->name(), $worker->board()->workers());
        while (null === $next = $other->next()) {
            usleep(50_000);
        }
        self::assertSame([$entry, $errand->toJson(), 2], $next);
    }

    public function testSettingsSayWhatIsMissing(): void
    {
        $files = static fn (string $files): SharedFiles => new SharedFiles(new MachineSettings('redis://x', $files, ''));
        foreach (['', 'ftp://a/b', 'sftp://host/path', 'relative/folder'] as $wrong) {
            try {
                $files($wrong)->clear('x');
                self::fail($wrong);
            } catch (InvalidChange $e) {
                self::assertStringContainsString('PESTLE_FILES', $e->getMessage());
            }
        }
        try {
            (new MachineSettings('http://x', '/tmp', ''))->check();
            self::fail('No queue.');
        } catch (InvalidChange $e) {
            self::assertStringContainsString('PESTLE_QUEUE', $e->getMessage());
        }
        // Whoever answers in the place of the server that is meant gets nothing.
        $path = Sounds::folder().'/one.wav';
        file_put_contents($path, 'sound');
        try {
            $files((string) preg_replace('/print=.*/', 'print=SHA256:'.base64_encode(random_bytes(32)), self::$machines->files))->putSample($path);
            self::fail('It is another server.');
        } catch (FilesystemException $e) {
            self::assertStringContainsString('authenticity', strtolower($e->getMessage().$e->getPrevious()?->getMessage()));
        }
        $sum = $files(self::$machines->files)->putSample($path);
        $files(self::$machines->files)->fetchSample($sum, $path.'.again');
        self::assertFileEquals($path, $path.'.again');
        file_put_contents(self::$machines->folder.'/files/samples/'.substr($sum, 0, 2)."/$sum.wav", 'soUnd');
        foreach ([$sum => 'whole', hash('sha256', 'none') => 'gone'] as $which => $word) {
            try {
                $files(self::$machines->files)->fetchSample((string) $which, $path.'.third');
                self::fail($word);
            } catch (InvalidChange $e) {
                self::assertStringContainsString($word, $e->getMessage());
            }
        }
        self::assertSame([$path, $path.'.again'], glob(\dirname($path).'/*'));
        try {
            (new Redis('redis://127.0.0.1:1'))->ask(0.0, 'PING');
            self::fail('Nobody is there.');
        } catch (QueueAway $e) {
            self::assertStringContainsString('cannot be reached', $e->getMessage());
        }
    }

    /** What lies in the queue is JSON, whoever put it there: whatever it is, it is read or refused. */
    public function testWhatIsNoErrandIsRefused(): void
    {
        $errand = new Errand(hash('sha256', 'home'), '7', 'long', 'listen', ['sample' => 'a', 'level' => 1.0], [hash('sha256', 'a') => hash('sha256', 'b')]);
        self::assertEquals($errand, Errand::fromJson($errand->toJson()));
        $report = new Report('7', 'errands/x', ['Mix – 1.zip' => hash('sha256', 'a')], ['lufs' => -14.0], null);
        self::assertEquals($report, Report::fromJson($report->toJson()));
        foreach (['../../x.wav', '.ssh', 'a/b', ''] as $name) {
            try {
                Report::fromJson((string) json_encode(['id' => '7', 'place' => 'x', 'files' => [$name => hash('sha256', 'a')], 'said' => [], 'givenUp' => false]));
                self::fail($name);
            } catch (InvalidChange $e) {
                self::assertStringContainsString('files', $e->getMessage());
            }
        }
        mt_srand($seed = random_int(0, 1 << 30));
        $refused = 0;
        for ($n = 0; $n < 600; ++$n) {
            $bytes = 0 === $n % 2 ? $errand->toJson() : $report->toJson();
            for ($i = mt_rand(1, 3); $i > 0; --$i) {
                $bytes[mt_rand(0, \strlen($bytes) - 1)] = \chr(mt_rand(0, 255));
            }
            try {
                0 === $n % 2 ? Errand::fromJson($bytes) : Report::fromJson($bytes);
            } catch (InvalidChange) {
                ++$refused;
            }
        }
        self::assertGreaterThan(300, $refused, "seed $seed");
    }

    /**
     * @param array<string, string|bool|int> $settings
     *
     * @return array{list<mixed>, array<string, string>} what is said, and sums of the files, made without other machines
     */
    private static function madeHere(array $settings, string $title): array
    {
        $key = json_encode([$settings, $title], \JSON_THROW_ON_ERROR);
        if (!isset(self::$madeHere[$key])) {
            $record = self::service(Beats::class)->find(self::$beat) ?? self::fail();
            $bench = new Bench(self::service(SampleStore::class)->library(), Sounds::folder(), static fn (float $progress): bool => true);
            $said = (new MakeDelivery(self::service(Beats::class)->content($record), DeliveryOrder::from(new Fields($settings)), $title))->write($bench) ?? self::fail();
            self::$madeHere[$key] = [[$said['archive'], $said['message'], $said['files'], round($said['lufs'], 9)], self::archived($bench->folder.'/'.$said['archive'])];
        }

        return self::$madeHere[$key];
    }

    /** @return array<string, string> sums of what sounds in the files of an archive, by name */
    private static function archived(string $path): array
    {
        $zip = new \ZipArchive();
        self::assertTrue($zip->open($path));
        $sums = [];
        for ($i = 0; $i < $zip->numFiles; ++$i) {
            $bytes = (string) $zip->getFromIndex($i);
            if (str_starts_with($bytes, 'RIFF')) {
                // A WAV also says when it was made.
                $at = (int) strpos($bytes, 'data');
                /** @var array{1: int} $length */
                $length = unpack('V', $bytes, $at + 4);
                $bytes = substr($bytes, $at + 8, $length[1]);
            }
            $sums[(string) $zip->getNameIndex($i)] = hash('sha256', $bytes);
        }

        return $sums;
    }

    /** The one there is. */
    private static function job(): JobRow
    {
        $jobs = self::service(Work::class)->all();
        self::assertCount(1, $jobs);

        return $jobs[0];
    }

    /** @return list<Envelope> */
    private static function lane(string $lane): array
    {
        $transport = self::$kernel->getContainer()->get('test.'.$lane);
        self::assertInstanceOf(\Symfony\Component\Messenger\Transport\TransportInterface::class, $transport);

        return array_values([...$transport->get()]);
    }

    /** @param array<string, string> $values */
    private static function environment(array $values): void
    {
        foreach ($values as $name => $value) {
            $_SERVER[$name] = $_ENV[$name] = $value;
            putenv("$name=$value");
        }
    }
}
