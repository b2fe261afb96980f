<?php

namespace Pestle\App\Apart;

use Pestle\App\Gather\SampleStore;
use Pestle\App\Queue\Job;
use Pestle\App\Task\Bench;
use Pestle\App\Task\Load;
use Pestle\App\Task\Outcome;
use Pestle\App\Task\Task;
use Pestle\Core\Apart\ApartFiles;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Beat\Fields;

/**
 * Takes a recording apart, piece by piece; begun again after a crash, it goes on behind the last whole piece.
 *
 * @implements Task<TakeApart>
 */
final readonly class TakeApartTask implements Task
{
    /** How much of it that is; the rest is to store the samples it becomes. */
    private const TAKING = 0.97;

    public function __construct(private TakenApart $apart, private SampleStore $samples)
    {
    }

    public static function name(): string
    {
        return 'apart';
    }

    public function pack(Job $job): ?Load
    {
        $sample = $this->samples->find($job->sound);

        return null === $sample || [] !== $this->apart->state($sample)->samples ? null : new Load(['sample' => $sample->hash, 'name' => $sample->name], [$sample->hash], $this->apart->place($sample));
    }

    public function goesOn(Job $job): bool
    {
        return true;
    }

    public function work(array $what, Bench $bench): ?array
    {
        $fields = new Fields($what);
        $files = new ApartFiles($bench->folder, SoundFile::open($bench->samples->path($fields->hash('sample')), $fields->text('name')));

        return $files->make(static fn (float $done): bool => $bench->tell(self::TAKING * $done)) ? [] : null;
    }

    public function settle(Job $job, Outcome $outcome): void
    {
        $sample = $this->samples->find($job->sound);
        if (null === $sample) {
            return;
        }
        if (null !== $outcome->trouble) {
            $this->apart->fail($sample, $outcome->trouble);

            return;
        }
        $this->apart->take($sample, $outcome->folder);
    }
}
