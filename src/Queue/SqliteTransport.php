<?php

namespace Pestle\App\Queue;

use Symfony\Component\Messenger\Envelope;
use Symfony\Component\Messenger\Stamp\RedeliveryStamp;
use Symfony\Component\Messenger\Stamp\TransportMessageIdStamp;
use Symfony\Component\Messenger\Transport\Serialization\SerializerInterface;
use Symfony\Component\Messenger\Transport\TransportInterface;

/** One lane of the jobs, as Messenger's workers ask for it. */
final readonly class SqliteTransport implements TransportInterface
{
    public function __construct(private JobTable $jobs, private string $lane, private SerializerInterface $serializer)
    {
    }

    public function get(): iterable
    {
        [$id, $body] = $this->jobs->claim($this->lane) ?? [0, ''];

        return 0 === $id ? [] : [$this->serializer->decode(['body' => $body])->with(new TransportMessageIdStamp($id))];
    }

    public function ack(Envelope $envelope): void
    {
        $id = $envelope->last(TransportMessageIdStamp::class)?->getId();
        $this->jobs->remove(is_numeric($id) ? (int) $id : 0);
    }

    public function reject(Envelope $envelope): void
    {
        $this->ack($envelope);
    }

    public function send(Envelope $envelope): Envelope
    {
        $job = $envelope->getMessage();
        $body = $this->serializer->encode($envelope->withoutAll(TransportMessageIdStamp::class))['body'] ?? '';

        return $envelope->with(new TransportMessageIdStamp($this->jobs->put($this->lane, \is_string($body) ? $body : '', $job instanceof Job ? $job->key() : null, $envelope->last(Titled::class)->title ?? '', null !== $envelope->last(Elsewhere::class), null !== $envelope->last(RedeliveryStamp::class))));
    }
}
