<?php

namespace Pestle\App\Machines;

use League\Flysystem\FilesystemException;
use League\Flysystem\FilesystemOperator;
use League\Flysystem\UnableToReadFile;
use Pestle\Core\Beat\InvalidChange;

/**
 * The place that all machines reach: samples under the sum of what is played, and what errands made. All of it can be had
 * again, so that it may be emptied.
 */
final class SharedFiles
{
    private ?FilesystemOperator $files = null;

    public function __construct(private readonly MachineSettings $settings)
    {
    }

    /** @throws InvalidChange where it is not the name of a file alone */
    public static function name(string $name): string
    {
        return 1 === preg_match('/^[^\/\x00-\x1f\x7f]{1,250}$/Du', $name) && !str_starts_with($name, '.') ? $name : throw InvalidChange::field('files', 'must be names of files.');
    }

    /**
     * Puts a sample there, unless it is.
     *
     * @return string its sum
     *
     * @throws FilesystemException
     */
    public function putSample(string $path): string
    {
        $sum = hash_file('sha256', $path);
        if (false === $sum) {
            throw new InvalidChange('A sample is gone from the disk.');
        }
        $place = self::sample($sum);
        if (!$this->files()->fileExists($place)) {
            $this->put($path, $place);
        }

        return $sum;
    }

    /**
     * @throws FilesystemException
     * @throws InvalidChange       where it is not whole
     */
    public function fetchSample(string $sum, string $path): void
    {
        $this->fetch(self::sample($sum), $sum, $path);
    }

    /**
     * @return array<string, string> all files of a folder by name, their sums
     *
     * @throws FilesystemException
     */
    public function putAll(string $folder, string $place): array
    {
        $sums = [];
        foreach (glob($folder.'/*') ?: [] as $path) {
            if (is_file($path)) {
                $this->put($path, $place.'/'.basename($path));
                $sums[basename($path)] = (string) hash_file('sha256', $path);
            }
        }

        return $sums;
    }

    /**
     * @param array<string, string> $sums by name
     *
     * @throws FilesystemException
     * @throws InvalidChange       where one is not whole
     */
    public function fetchAll(array $sums, string $place, string $folder): void
    {
        foreach ($sums as $name => $sum) {
            $this->fetch($place.'/'.$name, $sum, $folder.'/'.$name);
        }
    }

    /** @throws FilesystemException */
    public function clear(string $place): void
    {
        $this->files()->deleteDirectory($place);
    }

    private static function sample(string $sum): string
    {
        return 'samples/'.substr($sum, 0, 2).'/'.$sum.'.wav';
    }

    /** Under another name until it is whole. */
    private function put(string $path, string $place): void
    {
        $stream = fopen($path, 'r');
        if (false === $stream) {
            throw new InvalidChange(basename($path).' cannot be read.');
        }
        $part = $place.'.'.bin2hex(random_bytes(4)).'.part';
        try {
            $this->files()->writeStream($part, $stream);
        } finally {
            \is_resource($stream) && fclose($stream);
        }
        $this->files()->move($part, $place);
    }

    private function fetch(string $place, string $sum, string $path): void
    {
        is_dir(\dirname($path)) || @mkdir(\dirname($path), 0o700, true);
        $part = $path.'.'.bin2hex(random_bytes(4)).'.part';
        try {
            $in = $this->files()->readStream($place);
        } catch (UnableToReadFile $e) {
            throw $this->files()->fileExists($place) ? $e : new InvalidChange(basename($place).' is gone from the shared files. Try again: it is put there anew.');
        }
        $out = fopen($part, 'w');
        try {
            if (false === $out || false === stream_copy_to_stream($in, $out) || !fclose($out)) {
                throw new \RuntimeException('No space left on device');
            }
            if (hash_file('sha256', $part) !== $sum) {
                throw new InvalidChange(basename($place).' did not come whole.');
            }
            rename($part, $path);
        } finally {
            \is_resource($in) && fclose($in);
            is_file($part) && unlink($part);
        }
    }

    private function files(): FilesystemOperator
    {
        return $this->files ??= $this->settings->files();
    }
}
