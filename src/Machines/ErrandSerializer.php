<?php

namespace Pestle\App\Machines;

use Pestle\Core\Beat\InvalidChange;
use Symfony\Component\Messenger\Envelope;
use Symfony\Component\Messenger\Exception\MessageDecodingFailedException;
use Symfony\Component\Messenger\Transport\Serialization\SerializerInterface;

/** Errands as JSON: what comes from another machine is read, and never woken up as objects of its choice. */
final readonly class ErrandSerializer implements SerializerInterface
{
    /** @param array<string, mixed> $encodedEnvelope */
    public function decode(array $encodedEnvelope): Envelope
    {
        try {
            return new Envelope(Errand::fromJson(\is_string($encodedEnvelope['body'] ?? null) ? $encodedEnvelope['body'] : ''));
        } catch (InvalidChange $e) {
            throw new MessageDecodingFailedException($e->getMessage(), 0, $e);
        }
    }

    /** @return array{body: string} */
    public function encode(Envelope $envelope): array
    {
        $errand = $envelope->getMessage();

        return ['body' => $errand instanceof Errand ? $errand->toJson() : throw new \LogicException('Only errands go to other machines.')];
    }
}
