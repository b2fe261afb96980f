<?php

namespace Pestle\Tests\App;

use Pestle\App\Gather\Arrive;
use Pestle\App\Queue\JobRow;
use Pestle\App\Queue\JobState;
use Pestle\App\Queue\JobTable;
use Pestle\App\Queue\SqliteTransport;
use Pestle\App\Queue\Titled;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Messenger\Envelope;
use Symfony\Component\Messenger\Stamp\RedeliveryStamp;
use Symfony\Component\Messenger\Stamp\TransportMessageIdStamp;
use Symfony\Component\Messenger\Transport\Serialization\PhpSerializer;

/** Work waits in order, is claimed by one, and comes back when the claimer is gone. */
final class QueueTest extends TestCase
{
    private string $path;
    private JobTable $jobs;
    private SqliteTransport $queue;

    protected function setUp(): void
    {
        $this->path = Sounds::folder().'/queue.sqlite';
        $this->jobs = new JobTable($this->path);
        $this->queue = $this->lane();
    }

    public function testWorkIsDoneInOrderAndOnce(): void
    {
        self::assertSame([], [...$this->queue->get()]);
        foreach (['a', 'b', 'c'] as $name) {
            $this->queue->send(new Envelope(new Arrive($name)));
        }
        $done = [];
        while ([] !== $envelopes = [...$this->queue->get()]) {
            self::assertCount(1, $envelopes);
            $done[] = $this->upload($envelopes[0]);
            $this->queue->ack($envelopes[0]);
        }
        self::assertSame(['a', 'b', 'c'], $done);
    }

    public function testWhatOneClaimsNobodyElseGets(): void
    {
        $this->queue->send(new Envelope(new Arrive('a')));
        self::assertCount(1, [...$this->queue->get()]);
        self::assertSame([], [...$this->lane()->get()]);
    }

    public function testAClaimDiesWithItsProcess(): void
    {
        $this->queue->send(new Envelope(new Arrive('a')));
        $pid = pcntl_fork();
        if (0 === $pid) {
            [...$this->lane()->get()];
            posix_kill((int) getmypid(), \SIGKILL);
        }
        pcntl_waitpid($pid, $status);
        $again = [...$this->queue->get()];
        self::assertCount(1, $again);
        self::assertSame('a', $this->upload($again[0]));
        $this->queue->reject($again[0]);
        self::assertSame([], [...$this->queue->get()]);
    }

    /** Numbers of processes come round: another process with the number of one that died does not hold its claims; nor does one that is dead and not yet buried. */
    public function testAClaimIsNotHeldByWhoeverGotTheNumber(): void
    {
        $this->queue->send(new Envelope(new Arrive('a')));
        self::assertCount(1, [...$this->queue->get()]);
        $other = (12_345 << 22) | (int) getmypid();
        (new \PDO('sqlite:'.$this->path))->exec('UPDATE job SET claimed_by = '.$other);
        self::assertCount(1, [...$this->queue->get()]);

        $pid = pcntl_fork();
        if (0 === $pid) {
            (new \PDO('sqlite:'.$this->path))->exec('UPDATE job SET claimed_until = 0, attempts = 0');
            [...$this->lane()->get()];
            posix_kill((int) getmypid(), \SIGKILL);
        }
        $until = microtime(true) + 10.0;
        while (!str_contains((string) @file_get_contents("/proc/$pid/stat"), ') Z ') && microtime(true) < $until) {
            usleep(10_000);
        }
        self::assertCount(1, [...$this->queue->get()]);
        pcntl_waitpid($pid, $status);
    }

    public function testLanesDoNotWaitForEachOther(): void
    {
        $long = $this->lane('long');
        $long->send(new Envelope(new Arrive('an hour')));
        $this->queue->send(new Envelope(new Arrive('a second')));
        self::assertSame('a second', $this->upload([...$this->queue->get()][0]));
        self::assertSame('an hour', $this->upload([...$long->get()][0]));
    }

    /** What ends its process goes behind what was tried less often, and after three times aside, until it is tried again or let go. */
    public function testWhatEndsItsProcessIsPutAside(): void
    {
        $this->queue->send(new Envelope(new Arrive('deadly')));
        $this->queue->send(new Envelope(new Arrive('harmless')));
        $die = function (): void {
            $pid = pcntl_fork();
            if (0 === $pid) {
                [...$this->lane()->get()];
                posix_kill((int) getmypid(), \SIGKILL);
            }
            pcntl_waitpid($pid, $status);
        };
        $die();
        $harmless = [...$this->queue->get()];
        self::assertSame('harmless', $this->upload($harmless[0]));
        $this->queue->ack($harmless[0]);
        $die();
        self::assertSame([JobState::Waiting], array_column($this->jobs->all(), 'state'));
        $die();
        self::assertSame([], [...$this->queue->get()]);
        self::assertSame([JobState::Aside], array_column($this->jobs->all(), 'state'));
        $this->jobs->again($this->jobs->all()[0]->id);
        self::assertSame('deadly', $this->upload([...$this->queue->get()][0]));
    }

    /** A job is known by its key: asked for again it is one, also while it is under way, and again once it is done. */
    public function testAJobIsThereOnce(): void
    {
        $first = $this->queue->send(new Envelope(new Arrive('a'), [new Titled('Taking in a.wav')]));
        $again = $this->lane('long')->send(new Envelope(new Arrive('a')));
        self::assertEquals($first->last(TransportMessageIdStamp::class), $again->last(TransportMessageIdStamp::class));
        self::assertEquals([new JobRow(1, 'Taking in a.wav', JobState::Waiting, null)], $this->jobs->all());
        $claimed = [...$this->queue->get()][0];
        $this->queue->send(new Envelope(new Arrive('a')));
        $this->jobs->tell('upload a', 0.25);
        self::assertEquals([new JobRow(1, 'Taking in a.wav', JobState::Running, 0.25)], $this->jobs->all());
        // What failed and is to be tried again takes its place, whatever becomes of the first.
        $this->queue->send($claimed->with(new RedeliveryStamp(1)));
        $this->queue->reject($claimed);
        self::assertEquals([new JobRow($this->jobs->all()[0]->id, 'Taking in a.wav', JobState::Waiting, null)], $this->jobs->all());
        $this->queue->ack([...$this->queue->get()][0]);
        self::assertSame([], $this->jobs->all());
        $this->queue->send(new Envelope(new Arrive('a')));
        self::assertCount(1, $this->jobs->all());
    }

    /** What is called off is gone at once, with the process that is at it. */
    public function testWhatIsCalledOffEnds(): void
    {
        $this->queue->send(new Envelope(new Arrive('a')));
        $pid = pcntl_fork();
        if (0 === $pid) {
            [...$this->lane()->get()];
            sleep(60);
            posix_kill((int) getmypid(), \SIGKILL);
        }
        $until = microtime(true) + 20.0;
        while (JobState::Running !== $this->jobs->find('upload a')?->state && microtime(true) < $until) {
            usleep(10_000);
        }
        $begun = microtime(true);
        $this->jobs->stop(1);
        pcntl_waitpid($pid, $status);
        self::assertSame(\SIGKILL, pcntl_wtermsig(\is_int($status) ? $status : 0));
        self::assertLessThan(30.0, microtime(true) - $begun, 'it did not sleep to its end');
        self::assertSame([], $this->jobs->all());
    }

    /** A queue of before jobs had keys and titles is gone on with. */
    public function testOlderQueuesAreGoneOnWith(): void
    {
        $old = new \PDO('sqlite:'.$this->path);
        $old->exec('CREATE TABLE job (id INTEGER PRIMARY KEY AUTOINCREMENT, body BLOB NOT NULL, claimed_by INTEGER, claimed_until INTEGER NOT NULL)');
        $body = $old->prepare('INSERT INTO job (body, claimed_until) VALUES (?, 0)');
        $body->execute(['O:36:\"Symfony\\\\Component\\\\Messenger\\\\Envelope\":2:{s:44:\"\0Symfony\\\\Component\\\\Messenger\\\\Envelope\0stamps\";a:0:{}s:45:\"\0Symfony\\\\Component\\\\Messenger\\\\Envelope\0message\";O:24:\"Pestle\\\\App\\\\Gather\\\\Arrive\":1:{s:6:\"upload\";s:1:\"a\";}}']);
        self::assertSame('a', $this->upload([...$this->lane('long')->get()][0]));
    }

    private function lane(string $lane = 'short'): SqliteTransport
    {
        // A connection of its own, as another process has.
        return new SqliteTransport(new JobTable($this->path), $lane, new PhpSerializer());
    }

    private function upload(Envelope $envelope): string
    {
        $message = $envelope->getMessage();
        self::assertInstanceOf(Arrive::class, $message);

        return $message->upload;
    }
}
