<?php

namespace Pestle\Core\Exchange\Carried;

use Pestle\Core\Beat\InvalidChange;

/**
 * Reads an archive. Where something is written is never said by what is read: entries are taken out to places that the
 * reader is told. Nothing is believed that was not looked at: lengths, sums, the manifest.
 */
final readonly class ArchiveReader
{
    private const MOST_MANIFEST = 200_000_000;
    /** Many times the largest beat that can be made by hand: what is read whole must fit into memory. */
    private const MOST_DOCUMENT = 50_000_000;
    private const PIECE = 1 << 20;

    private function __construct(private \ZipArchive $zip, private string $name, public Manifest $manifest)
    {
    }

    /**
     * @param string $name as its maker knows it
     *
     * @throws Damaged
     */
    public static function open(string $path, string $name): self
    {
        $zip = new \ZipArchive();
        if (true !== $zip->open($path, \ZipArchive::RDONLY)) {
            throw new Damaged(\sprintf('%s is no zip archive that can be read. Choose a file that Pestle carried out.', $name));
        }
        $entry = $zip->statName(Manifest::ENTRY);
        if (false === $entry || $entry['size'] > self::MOST_MANIFEST) {
            throw new Damaged(\sprintf('%s holds no beat: there is no %s in it. Choose a file that Pestle carried out; a kit is brought in under Kit.', $name, Manifest::ENTRY));
        }
        try {
            $manifest = Manifest::decode((string) $zip->getFromName(Manifest::ENTRY, self::MOST_MANIFEST));
        } catch (InvalidChange $e) {
            throw new Damaged(\sprintf('%s: %s cannot be used. %s', $name, Manifest::ENTRY, $e->getMessage()));
        }

        return new self($zip, $name, $manifest);
    }

    /** Bytes that all files take together. */
    public function bytes(): int
    {
        return array_sum(array_map(static fn (CarriedFile $f): int => $f->bytes, $this->manifest->files()));
    }

    /** @throws Damaged */
    public function document(CarriedFile $file): string
    {
        $text = $file->bytes > self::MOST_DOCUMENT ? false : $this->zip->getFromName($file->entry, $file->bytes + 1);
        if (false === $text) {
            throw Damaged::entry($this->name, $file->entry, 'is missing or cannot be unpacked');
        }

        return $file->bytes === \strlen($text) && hash('sha256', $text) === $file->sha256 ? $text : throw $this->other($file);
    }

    /**
     * Looks at a whole file, and takes it out to a path where one is given; a file of that name goes.
     *
     * @throws Damaged           where it is not what the manifest says
     * @throws \RuntimeException where it cannot be written
     */
    public function check(CarriedFile $file, ?string $to = null): void
    {
        $from = $this->zip->getStreamName($file->entry);
        if (false === $from) {
            throw Damaged::entry($this->name, $file->entry, 'is missing or cannot be unpacked');
        }
        $target = null === $to ? null : fopen($to, 'w');
        $sum = hash_init('sha256');
        $bytes = 0;
        // A length that lies is not believed: no more is unpacked than was said.
        while ($bytes <= $file->bytes && !feof($from) && false !== ($piece = @fread($from, self::PIECE)) && '' !== $piece) {
            $bytes += \strlen($piece);
            hash_update($sum, $piece);
            if (null !== $target && (false === $target || \strlen($piece) !== @fwrite($target, $piece))) {
                throw new \RuntimeException(\sprintf('%s could not be unpacked: the disk may be full.', $this->name));
            }
        }
        fclose($from);
        if (\is_resource($target)) {
            fclose($target);
        }
        if ($bytes !== $file->bytes || hash_final($sum) !== $file->sha256) {
            throw $this->other($file);
        }
    }

    private function other(CarriedFile $file): Damaged
    {
        return Damaged::entry($this->name, $file->entry, 'is damaged: it is not what it was when it was packed');
    }
}
