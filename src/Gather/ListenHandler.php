<?php

namespace Pestle\App\Gather;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\Core\Audio\SoundFile;
use Psr\Log\LoggerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;

#[AsMessageHandler]
final readonly class ListenHandler
{
    public function __construct(private SampleStore $samples, private EntityManagerInterface $entities, private LoggerInterface $logger)
    {
    }

    public function __invoke(Listen $message): void
    {
        $this->entities->clear();
        $sample = $this->samples->find($message->sample);
        if (null === $sample || $sample->heardBy() >= Listening::VERSION) {
            return;
        }
        try {
            $sample->hear(Listening::to(SoundFile::open($this->samples->library()->path($sample->hash), $sample->name)));
        } catch (\Throwable $e) {
            $this->logger->error('A sample could not be listened to: '.$e->getMessage(), ['exception' => $e]);
            $sample->hear([]);
        }
        $this->entities->flush();
    }
}
