<?php

namespace Pestle\Core\Render;

/**
 * Rendered segments by key, in memory and in a folder, each within its bound; what was used longest
 * ago goes first. Losing any of it costs time and nothing else.
 */
final class SegmentCache
{
    /** Memory of a full stereo segment. */
    private const ENTRY_BYTES = 2 * 16 * Segment::FRAMES;
    /** Of one that is packed, with its states. */
    private const PACKED_BYTES = 9 * Segment::FRAMES;
    /** How many segments are written between looks at the bound. */
    private const EVICT_EVERY = 20_000;
    /** A part this old is not being written any more. */
    private const PART_SECONDS = 60;
    /** Most segments that wait to be written; what was made longest ago is not written then. */
    private const MOST_UNSAVED = 400;
    /** @var array<string, Rendered> what was wanted last, ready to be reckoned with; what was wanted longest ago comes first */
    private array $entries = [];
    private readonly int $mostEntries;
    /** @var array<string, Rendered> what was wanted before that, packed */
    private array $packed = [];
    private readonly int $mostPacked;
    /** @var array<string, Rendered> */
    private array $unsaved = [];
    private int $saved = 0;
    /** Bytes that inserts remember in all entries. */
    private int $remembered = 0;

    /** @param int $memoryBytes half of it for segments that are ready, half for packed ones, which are four times as many */
    public function __construct(
        int $memoryBytes,
        private readonly ?string $folder = null,
        private readonly int $diskBytes = 2_000_000_000,
    ) {
        $this->mostEntries = intdiv($memoryBytes, 2 * self::ENTRY_BYTES);
        $this->mostPacked = intdiv($memoryBytes, 2 * self::PACKED_BYTES);
    }

    /** Keeps nothing: for deliveries, which stream. */
    public static function none(): self
    {
        return new self(0);
    }

    public function keepsNothing(): bool
    {
        return 0 === $this->mostEntries && null === $this->folder;
    }

    public function find(string $key): ?Rendered
    {
        if (isset($this->entries[$key])) {
            $entry = $this->entries[$key];
            unset($this->entries[$key]);

            return $this->entries[$key] = $entry;
        }
        if (isset($this->packed[$key])) {
            $entry = $this->packed[$key];
            unset($this->packed[$key]);
            $this->remember($key, $entry);

            return $entry;
        }
        $path = $this->path($key);
        if (null === $path || !is_file($path)) {
            return null;
        }
        $entry = Rendered::decode((string) @file_get_contents($path));
        if (null !== $entry) {
            @touch($path);
            $this->remember($key, $entry);
        }

        return $entry;
    }

    /** @param bool $lasting whether it is worth a file: sound that costs more to make than to read */
    public function keep(string $key, Rendered $entry, bool $lasting): void
    {
        $this->remember($key, $entry);
        if ($lasting && null !== $this->folder) {
            $this->unsaved[$key] = $entry;
            if (\count($this->unsaved) > self::MOST_UNSAVED) {
                unset($this->unsaved[array_key_first($this->unsaved)]);
            }
        }
    }

    /** Whether save() has something to do. */
    public function hasUnsaved(): bool
    {
        return [] !== $this->unsaved;
    }

    /** Writes up to $most waiting segments: called when nobody waits for sound. */
    public function save(int $most = 16): void
    {
        if ($this->saved > self::EVICT_EVERY) {
            $this->saved = 0;
            $this->evict();
        }
        foreach (\array_slice($this->unsaved, 0, $most, true) as $key => $entry) {
            unset($this->unsaved[$key]);
            ++$this->saved;
            $path = (string) $this->path((string) $key);
            if (!is_dir(\dirname($path))) {
                @mkdir(\dirname($path), 0o777, true);
            }
            $part = $path.'.'.getmypid();
            if (false !== @file_put_contents($part, $entry->encode())) {
                rename($part, $path);
            }
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
            if ($total <= $this->diskBytes) {
                break;
            }
            $total -= (int) @filesize($path);
            @unlink($path);
        }
    }

    private function remember(string $key, Rendered $entry): void
    {
        if (0 === $this->mostEntries) {
            return;
        }
        $this->remembered += $entry->remembered() - (isset($this->entries[$key]) ? $this->entries[$key]->remembered() : 0);
        $this->entries[$key] = $entry;
        while (\count($this->entries) + intdiv($this->remembered, self::ENTRY_BYTES) > $this->mostEntries && \count($this->entries) > 1) {
            $oldest = (string) array_key_first($this->entries);
            $entry = $this->entries[$oldest];
            unset($this->entries[$oldest]);
            $this->remembered -= $entry->remembered();
            $this->pack($oldest, $entry);
        }
    }

    private function pack(string $key, Rendered $entry): void
    {
        if (0 === $this->mostPacked || $entry->remembered() > 0) {
            return;
        }
        $this->packed[$key] = $entry->shrunk();
        if (\count($this->packed) > $this->mostPacked) {
            unset($this->packed[array_key_first($this->packed)]);
        }
    }

    private function path(string $key): ?string
    {
        return null === $this->folder ? null : $this->folder.'/'.substr($key, 0, 2).'/'.$key;
    }
}
