<?php

namespace Pestle\App\Queue;

use Symfony\Component\Messenger\Transport\Serialization\SerializerInterface;
use Symfony\Component\Messenger\Transport\TransportFactoryInterface;
use Symfony\Component\Messenger\Transport\TransportInterface;

/**
 * Makes queue://… transports.
 *
 * @implements TransportFactoryInterface<TransportInterface>
 */
final readonly class SqliteTransportFactory implements TransportFactoryInterface
{
    public function __construct(private JobTable $jobs)
    {
    }

    /** @param array<string, mixed> $options */
    public function createTransport(#[\SensitiveParameter] string $dsn, array $options, SerializerInterface $serializer): TransportInterface
    {
        return new SqliteTransport($this->jobs, substr($dsn, \strlen('queue://')), $serializer);
    }

    /** @param array<string, mixed> $options */
    public function supports(#[\SensitiveParameter] string $dsn, array $options): bool
    {
        return str_starts_with($dsn, 'queue://');
    }
}
