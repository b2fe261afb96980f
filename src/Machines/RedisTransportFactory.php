<?php

namespace Pestle\App\Machines;

use Psr\Log\LoggerInterface;
use Symfony\Component\Messenger\Transport\Serialization\SerializerInterface;
use Symfony\Component\Messenger\Transport\TransportFactoryInterface;
use Symfony\Component\Messenger\Transport\TransportInterface;

/**
 * Makes machines://… transports.
 *
 * @implements TransportFactoryInterface<TransportInterface>
 */
final readonly class RedisTransportFactory implements TransportFactoryInterface
{
    public function __construct(private Worker $worker, private LoggerInterface $logger)
    {
    }

    /** @param array<string, mixed> $options */
    public function createTransport(#[\SensitiveParameter] string $dsn, array $options, SerializerInterface $serializer): TransportInterface
    {
        return new RedisTransport($this->worker->lane(substr($dsn, \strlen('machines://'))), $this->worker->board(), $this->worker->name(), $serializer, $this->logger);
    }

    /** @param array<string, mixed> $options */
    public function supports(#[\SensitiveParameter] string $dsn, array $options): bool
    {
        return str_starts_with($dsn, 'machines://');
    }
}
