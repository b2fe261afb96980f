<?php

namespace Pestle\Core\Exchange\Carried;

/** Writes an archive: a ZIP of open formats. Audio is stored as it is, so that any entry can be taken out by any tool. */
final class ArchiveWriter
{
    private \ZipArchive $zip;
    /** @var array<string, true> names in use, in small letters */
    private array $taken = [];

    /** @throws \RuntimeException when it cannot be written */
    public function __construct(private readonly string $path)
    {
        $this->zip = new \ZipArchive();
        if (true !== $this->zip->open($path.'.part', \ZipArchive::CREATE | \ZipArchive::OVERWRITE)) {
            throw new \RuntimeException(\sprintf('%s cannot be written. Check the folder and its rights.', $path));
        }
    }

    public function text(string $folder, string $name, string $ending, string $text): CarriedFile
    {
        $file = CarriedFile::text($this->entry($folder, $name, $ending), $text);
        $this->zip->addFromString($file->entry, $text);

        return $file;
    }

    public function file(string $folder, string $name, string $ending, string $path): CarriedFile
    {
        $file = CarriedFile::of($this->entry($folder, $name, $ending), $path);
        $this->zip->addFile($path, $file->entry);
        $this->zip->setCompressionName($file->entry, \ZipArchive::CM_STORE);

        return $file;
    }

    /**
     * Gives the archive its name.
     *
     * @param callable(float): void $told takes how far it is, 0 to 1
     *
     * @throws \RuntimeException when it cannot be written; then nothing stays
     */
    public function close(Manifest $manifest, callable $told): void
    {
        $this->zip->addFromString(Manifest::ENTRY, $manifest->encode());
        $this->zip->registerProgressCallback(0.01, $told);
        if (!$this->zip->close() || !rename($this->path.'.part', $this->path)) {
            @unlink($this->path.'.part');
            throw new \RuntimeException(\sprintf('%s cannot be written: the disk may be full.', $this->path));
        }
    }

    /** Gives up: nothing stays behind. Left to itself, a zip would be written when nobody holds it any more. */
    public function discard(): void
    {
        $this->zip->unchangeAll();
        @$this->zip->close();
        @unlink($this->path.'.part');
    }

    /** A name for an entry that reads like what it holds, on every system. */
    private function entry(string $folder, string $name, string $ending): string
    {
        $plain = trim((string) preg_replace('/[^\p{L}\p{N} _.#+-]+/u', '_', $name), ' .') ?: 'unnamed';
        for ($n = 1;; ++$n) {
            $entry = \sprintf('%s/%s%s.%s', $folder, mb_substr($plain, 0, 80), 1 === $n ? '' : ' '.$n, $ending);
            if (!isset($this->taken[$key = mb_strtolower($entry)])) {
                $this->taken[$key] = true;

                return $entry;
            }
        }
    }
}
