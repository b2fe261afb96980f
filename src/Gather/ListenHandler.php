<?php

namespace Pestle\App\Gather;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\WaveOverview;
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
        $sample = $this->samples->find($message->sound);
        if (null === $sample || $sample->heardBy() >= Listening::VERSION) {
            return;
        }
        try {
            $source = SoundFile::open($this->samples->library()->path($sample->hash), $sample->name);
            if (0 < $sample->heardBy()) {
                // It came with an older version: its outline may show both sides as one.
                $sample->show(WaveOverview::of($source));
            }
            $sample->hear(Listening::to($source));
            $this->entities->flush();
        } catch (\Throwable $e) {
            $this->logger->error('A sample could not be listened to: '.$e->getMessage(), ['exception' => $e]);
            // What was to be stored may be the trouble: nothing of it is.
            $this->entities->getConnection()->executeStatement('UPDATE sample SET facts = ? WHERE hash = ?', ['[]', $sample->hash]);
        }
    }
}
