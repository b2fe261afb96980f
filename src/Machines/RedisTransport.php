<?php

namespace Pestle\App\Machines;

use Psr\Log\LoggerInterface;
use Symfony\Component\Messenger\Envelope;
use Symfony\Component\Messenger\Exception\MessageDecodingFailedException;
use Symfony\Component\Messenger\Stamp\TransportMessageIdStamp;
use Symfony\Component\Messenger\Transport\Serialization\SerializerInterface;
use Symfony\Component\Messenger\Transport\TransportInterface;

/** One lane of the errands, as Messenger's workers ask for it. */
final class RedisTransport implements TransportInterface
{
    private const THERE_SECONDS = 2.0;
    private const PAUSE_MICROSECONDS = 500_000;
    /** For what must not be lost, seconds. */
    private const PATIENCE = 600.0;
    private float $told = 0.0;

    public function __construct(private readonly RedisStream $stream, private readonly Board $board, private readonly string $worker, private readonly SerializerInterface $serializer, private readonly LoggerInterface $logger)
    {
    }

    public function get(): iterable
    {
        try {
            if (microtime(true) - $this->told > self::THERE_SECONDS) {
                $this->told = microtime(true);
                $this->board->isThere($this->worker);
            }
            $next = $this->stream->next();
        } catch (QueueAway) {
            usleep(self::PAUSE_MICROSECONDS);

            return [];
        }
        if (null === $next) {
            return [];
        }
        [$id, $body, $tries] = $next;
        try {
            $errand = $this->serializer->decode(['body' => $body])->getMessage();
        } catch (MessageDecodingFailedException $e) {
            $this->logger->error('What lay in the queue is no errand: '.$e->getMessage());
            $this->stream->done($id, self::PATIENCE);

            return [];
        }

        return $errand instanceof Errand ? [new Envelope($errand->taken($id, $tries), [new TransportMessageIdStamp($id)])] : [];
    }

    public function ack(Envelope $envelope): void
    {
        $id = $envelope->last(TransportMessageIdStamp::class)?->getId();
        $this->stream->done(\is_string($id) ? $id : '', self::PATIENCE);
    }

    public function reject(Envelope $envelope): void
    {
        $this->ack($envelope);
    }

    public function send(Envelope $envelope): Envelope
    {
        $body = $this->serializer->encode($envelope)['body'] ?? '';
        $this->stream->add(\is_string($body) ? $body : '', self::PATIENCE);

        return $envelope;
    }
}
