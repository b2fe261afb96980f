<?php

namespace Pestle\Core\Render;

/** What was worked out, by key, as files of a folder that has its bound; what was used longest ago goes first. */
final class SegmentFiles
{
    /** How many files are written between looks at the bound. */
    private const EVICT_EVERY = 20_000;
    /** A part this old is not being written any more. */
    private const PART_SECONDS = 60;

    private int $written = 0;

    public function __construct(private readonly string $folder, private readonly int $mostBytes)
    {
    }

    public function read(string $key): ?string
    {
        $path = $this->path($key);
        if (!is_file($path)) {
            return null;
        }
        $bytes = @file_get_contents($path);
        if (false === $bytes) {
            return null;
        }
        @touch($path);

        return $bytes;
    }

    public function write(string $key, string $bytes): void
    {
        if (++$this->written > self::EVICT_EVERY) {
            $this->written = 0;
            $this->evict();
        }
        $path = $this->path($key);
        if (!is_dir(\dirname($path))) {
            @mkdir(\dirname($path), 0o777, true);
        }
        $part = $path.'.'.getmypid();
        if (false !== @file_put_contents($part, $bytes)) {
            rename($part, $path);
        }
    }

    /** Deletes the files used longest ago until the folder is within its bound. */
    public function evict(): void
    {
        $files = [];
        $total = 0;
        foreach (glob($this->folder.'/??/*') ?: [] as $path) {
            $stat = @stat($path);
            if (str_contains(basename($path), '.') && false !== $stat && $stat['mtime'] < time() - self::PART_SECONDS) {
                // The part of a save that was killed.
                @unlink($path);
                continue;
            }
            if (false !== $stat) {
                $files[$path] = $stat['mtime'];
                $total += $stat['size'];
            }
        }
        asort($files);
        foreach ($files as $path => $_) {
            if ($total <= $this->mostBytes) {
                break;
            }
            $total -= (int) @filesize($path);
            @unlink($path);
        }
    }

    private function path(string $key): string
    {
        return $this->folder.'/'.substr($key, 0, 2).'/'.$key;
    }
}
