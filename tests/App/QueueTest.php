<?php

namespace Pestle\Tests\App;

use Pestle\App\Gather\Arrive;
use Pestle\App\Queue\SqliteTransport;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Messenger\Envelope;
use Symfony\Component\Messenger\Transport\Serialization\PhpSerializer;

/** Work waits in order, is claimed by one, and comes back when the claimer is gone. */
final class QueueTest extends TestCase
{
    private string $path;
    private SqliteTransport $queue;

    protected function setUp(): void
    {
        $this->path = Sounds::folder().'/queue.sqlite';
        $this->queue = new SqliteTransport($this->path, new PhpSerializer());
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
        self::assertSame([], [...(new SqliteTransport($this->path, new PhpSerializer()))->get()]);
    }

    public function testAClaimDiesWithItsProcess(): void
    {
        $this->queue->send(new Envelope(new Arrive('a')));
        $pid = pcntl_fork();
        if (0 === $pid) {
            [...(new SqliteTransport($this->path, new PhpSerializer()))->get()];
            posix_kill((int) getmypid(), \SIGKILL);
        }
        pcntl_waitpid($pid, $status);
        $again = [...$this->queue->get()];
        self::assertCount(1, $again);
        self::assertSame('a', $this->upload($again[0]));
        $this->queue->reject($again[0]);
        self::assertSame([], [...$this->queue->get()]);
    }

    private function upload(Envelope $envelope): string
    {
        $message = $envelope->getMessage();
        self::assertInstanceOf(Arrive::class, $message);

        return $message->upload;
    }
}
