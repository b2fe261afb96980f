<?php

namespace Pestle\App\Gather;

use Pestle\Core\Audio\UnreadableAudio;
use Psr\Log\LoggerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;

#[AsMessageHandler]
final readonly class WorkOutHandler
{
    public function __construct(private SampleStore $samples, private LoggerInterface $logger)
    {
    }

    public function __invoke(WorkOut $message): void
    {
        try {
            $this->samples->library()->open($message->sound);
        } catch (UnreadableAudio $e) {
            $this->logger->warning('Edits could not be worked out: '.$e->getMessage());
        }
    }
}
