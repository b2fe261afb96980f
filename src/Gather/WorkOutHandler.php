<?php

namespace Pestle\App\Gather;

use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Render\NotWantedAnyMore;
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
            $this->samples->library(givesUp: true)->open($message->sound);
        } catch (NotWantedAnyMore) {
            // Taken back, or its page was closed; asked for again, it begins anew.
        } catch (UnreadableAudio $e) {
            $this->logger->warning('Edits could not be worked out: '.$e->getMessage());
        }
    }
}
