<?php

namespace Pestle\Core\Render;

/**
 * Rendered segments by key, in memory and in a folder, each within its bound; what was used longest
 * ago goes first. Losing any of it costs time and nothing else.
 */
final class SegmentCache
{
    /** Memory of a full stereo segment that is ready. */
    private const ENTRY_BYTES = 2 * 16 * Segment::FRAMES;
    /** Of memory, one part in so many is for segments that are ready: a loop is longer than would fit, and packed ones are soon ready. */
    private const READY = 4;
    /** Most segments that wait to be written; what was made longest ago is not written then. */
    private const MOST_UNSAVED = 400;

    /** @var array<string, Rendered> what was wanted last, ready to be reckoned with; what was wanted longest ago comes first */
    private array $entries = [];
    private readonly int $mostEntries;
    /** @var array<string, Rendered> what was wanted before that, packed */
    private array $packed = [];
    private int $packedBytes = 0;
    private readonly int $mostPackedBytes;
    /** @var array<string, Rendered> */
    private array $unsaved = [];
    /** Bytes that inserts remember in all entries. */
    private int $remembered = 0;
    public readonly ?SegmentFiles $files;

    public function __construct(int $memoryBytes, ?string $folder = null, int $diskBytes = 2_000_000_000)
    {
        $this->mostEntries = intdiv($memoryBytes, self::READY * self::ENTRY_BYTES);
        $this->mostPackedBytes = $memoryBytes - intdiv($memoryBytes, self::READY);
        $this->files = null === $folder ? null : new SegmentFiles($folder, $diskBytes);
    }

    /** Keeps nothing: for deliveries, which stream. */
    public static function none(): self
    {
        return new self(0);
    }

    public function keepsNothing(): bool
    {
        return 0 === $this->mostEntries && null === $this->files;
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
            $this->packedBytes -= $entry->bytes();
            unset($this->packed[$key]);
            $this->remember($key, $entry);

            return $entry;
        }
        $entry = Rendered::decode($this->files?->read($key) ?? '');
        if (null !== $entry) {
            $this->remember($key, $entry);
        }

        return $entry;
    }

    /** @param bool $lasting whether it is worth a file: sound that costs more to make than to read */
    public function keep(string $key, Rendered $entry, bool $lasting): void
    {
        $this->remember($key, $entry);
        if ($lasting && null !== $this->files) {
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
        foreach (\array_slice($this->unsaved, 0, $most, true) as $key => $entry) {
            unset($this->unsaved[$key]);
            $this->files?->write((string) $key, $entry->encode());
        }
    }

    /** Deletes the files used longest ago until the folder is within its bound. */
    public function evict(): void
    {
        $this->files?->evict();
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
        $this->packed[$key] = $entry->shrunk();
        $this->packedBytes += $this->packed[$key]->bytes();
        while ($this->packedBytes > $this->mostPackedBytes && [] !== $this->packed) {
            $oldest = (string) array_key_first($this->packed);
            $this->packedBytes -= $this->packed[$oldest]->bytes();
            unset($this->packed[$oldest]);
        }
    }
}
