<?php

namespace Pestle\App\Gather;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Queue\Job;
use Pestle\App\Task\Bench;
use Pestle\App\Task\Load;
use Pestle\App\Task\Outcome;
use Pestle\App\Task\Task;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\WaveOverview;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Exchange\Carried\Facts;
use Psr\Log\LoggerInterface;

/**
 * Listens to a sample.
 *
 * @implements Task<Listen>
 */
final readonly class ListenTask implements Task
{
    public function __construct(private SampleStore $samples, private EntityManagerInterface $entities, private LoggerInterface $logger)
    {
    }

    public static function name(): string
    {
        return 'listen';
    }

    public function pack(Job $job): ?Load
    {
        $sample = $this->samples->find($job->sound);

        return null === $sample || $sample->heardBy() >= Listening::VERSION ? null : new Load([
            'sample' => $sample->hash,
            'name' => $sample->name,
            // One that came with an older version: its outline may show both sides as one.
            'outlined' => 0 < $sample->heardBy(),
        ], [$sample->hash]);
    }

    public function goesOn(Job $job): bool
    {
        return true;
    }

    public function work(array $what, Bench $bench): array
    {
        $fields = new Fields($what);
        $source = SoundFile::open($bench->samples->path($fields->hash('sample')), $fields->text('name'));

        return ['heard' => Listening::to($source), 'outline' => true === ($what['outlined'] ?? false) ? base64_encode(WaveOverview::of($source)->encode()) : null];
    }

    public function settle(Job $job, Outcome $outcome): void
    {
        $sample = $this->samples->find($job->sound);
        if (null === $sample) {
            return;
        }
        try {
            null === $outcome->trouble || throw new \RuntimeException($outcome->trouble);
            $outline = $outcome->said['outline'] ?? null;
            \is_string($outline) && $sample->show(WaveOverview::decode((string) base64_decode($outline, true)));
            $sample->hear(Facts::read((new Fields($outcome->said))->nested('heard'), $sample->frames));
            $this->entities->flush();
        } catch (\Throwable $e) {
            $this->logger->error('A sample could not be listened to: '.$e->getMessage(), ['exception' => $e]);
            // What was to be stored may be the trouble: nothing of it is.
            $this->entities->getConnection()->executeStatement('UPDATE sample SET facts = ? WHERE hash = ?', ['[]', $sample->hash]);
        }
    }
}
