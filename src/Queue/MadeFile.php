<?php

namespace Pestle\App\Queue;

use Pestle\App\Storage\DiskTrouble;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Beat\InvalidChange;
use Psr\Log\LoggerInterface;

/** A file that a job makes where it is asked for, and that is kept; what kept it from being made lies beside its place. */
final readonly class MadeFile
{
    public function __construct(private Job $job, private string $path)
    {
    }

    /**
     * @return string|null its path; null while it is being made
     *
     * @throws InvalidChange where it could not be made; asked for again, it is tried again
     */
    public function find(Work $work): ?string
    {
        if (is_file($this->path)) {
            return $this->path;
        }
        $problem = @file_get_contents($this->path.'.problem');
        if (false !== $problem) {
            unlink($this->path.'.problem');
            throw new InvalidChange($problem);
        }
        $work->hand($this->job, Work::SHORT);

        return null;
    }

    /** @param callable(string): mixed $make writes the whole file to the path it is given, or throws */
    public function make(callable $make, LoggerInterface $logger): void
    {
        try {
            $make($this->path);
        } catch (InvalidChange|UnreadableAudio $e) {
            file_put_contents($this->path.'.problem', $e->getMessage());
        } catch (\Throwable $e) {
            $logger->error('A file could not be made: '.$e->getMessage(), ['exception' => $e]);
            file_put_contents($this->path.'.problem', DiskTrouble::sentence($e) ?? 'It could not be made. Check that there is space on the disk, then try again.');
        }
    }
}
