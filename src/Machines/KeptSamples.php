<?php

namespace Pestle\App\Machines;

use League\Flysystem\FilesystemException;
use Pestle\App\Storage\DataFolder;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Render\SampleLibrary;

/** Samples that a worker has fetched and keeps for the next errand, those used lately. */
final readonly class KeptSamples
{
    private const MOST_BYTES = 10_000_000_000;

    public function __construct(private SharedFiles $files, private DataFolder $folder)
    {
    }

    /**
     * @param array<string, string> $samples sums by hash
     *
     * @return true once all are there
     *
     * @throws FilesystemException
     * @throws InvalidChange       where one did not come whole
     */
    public function fetch(array $samples, SampleLibrary $library): bool
    {
        foreach ($samples as $hash => $sum) {
            $path = $library->path($hash);
            if (is_file($path)) {
                @touch($path);
            } else {
                $this->files->fetchSample($sum, $path);
            }
        }

        return true;
    }

    /** Lets go of those used longest ago. */
    public function bound(): void
    {
        $bytes = 0;
        $used = [];
        foreach (glob($this->folder->fetched().'/*/*.wav') ?: [] as $path) {
            $used[$path] = (int) @filemtime($path);
        }
        arsort($used);
        foreach (array_keys($used) as $path) {
            $bytes += (int) @filesize($path);
            $bytes <= self::MOST_BYTES || @unlink($path);
        }
    }
}
