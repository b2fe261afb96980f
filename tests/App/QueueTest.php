<?php

namespace Pestle\Tests\App;

use Pestle\App\Gather\Arrive;
use Pestle\App\Queue\SqliteTransport;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Messenger\Envelope;
use Symfony\Component\Messenger\Stamp\TransportMessageIdStamp;
use Symfony\Component\Messenger\Transport\Serialization\PhpSerializer;

/** Work waits in order, is claimed by one, and comes back when the claimer is gone. */
final class QueueTest extends TestCase
{
    private string $path;
    private SqliteTransport $queue;

    protected function setUp(): void
    {
        $this->path = Sounds::folder().'/queue.sqlite';
        $this->queue = new SqliteTransport($this->path, 'short', new PhpSerializer());
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
        self::assertSame([], [...(new SqliteTransport($this->path, 'short', new PhpSerializer()))->get()]);
    }

    public function testAClaimDiesWithItsProcess(): void
    {
        $this->queue->send(new Envelope(new Arrive('a')));
        $pid = pcntl_fork();
        if (0 === $pid) {
            [...(new SqliteTransport($this->path, 'short', new PhpSerializer()))->get()];
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
            [...(new SqliteTransport($this->path, 'short', new PhpSerializer()))->get()];
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
        $long = new SqliteTransport($this->path, 'long', new PhpSerializer());
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
                [...(new SqliteTransport($this->path, 'short', new PhpSerializer()))->get()];
                posix_kill((int) getmypid(), \SIGKILL);
            }
            pcntl_waitpid($pid, $status);
        };
        $die();
        $harmless = [...$this->queue->get()];
        self::assertSame('harmless', $this->upload($harmless[0]));
        $this->queue->ack($harmless[0]);
        $die();
        self::assertSame([], $this->queue->aside());
        $die();
        self::assertSame([], [...$this->queue->get()]);
        $aside = $this->queue->aside();
        self::assertSame(['deadly'], array_map($this->upload(...), $aside));
        $id = (int) (is_numeric($own = $aside[0]->last(TransportMessageIdStamp::class)?->getId()) ? $own : 0);
        $this->queue->again($id);
        self::assertSame([], $this->queue->aside());
        self::assertSame('deadly', $this->upload([...$this->queue->get()][0]));
    }

    private function upload(Envelope $envelope): string
    {
        $message = $envelope->getMessage();
        self::assertInstanceOf(Arrive::class, $message);

        return $message->upload;
    }
}
