<?php

namespace Pestle\App\Shelf;

use Pestle\Core\Exchange\Sfz\Text;
use Pestle\Core\Exchange\Sfz\Unreadable;
use Symfony\Component\Finder\Finder;

/** A zip that holds kits: what it may hold is looked at before anything of it is written, and again while it is. */
final class KitZip
{
    private const MOST_FILES = 5000;
    private const MOST_BYTES = 4_000_000_000;
    private const MOST_KITS = 100;

    /**
     * @param string $folder empty, takes what is in the zip
     *
     * @return list<string> paths of its SFZ files in the folder, by name
     *
     * @throws Unreadable
     */
    public static function unpack(string $path, string $name, string $folder): array
    {
        $zip = new \ZipArchive();
        if (true !== $zip->open($path, \ZipArchive::RDONLY)) {
            throw new Unreadable(\sprintf('%s is no zip archive that can be read.', $name));
        }
        foreach (self::entries($zip, $name) as $i => [$inside, $size]) {
            self::write($zip, $i, $size, $folder.'/'.$inside, \sprintf('%s: %s', $name, $inside));
        }
        $kits = [];
        foreach ((new Finder())->files()->in($folder)->name('/\.sfz$/i')->sortByName() as $file) {
            $kits[] = $file->getRelativePathname();
        }

        return $kits;
    }

    /** @return array<int, array{string, int}> path and size of what is to be unpacked, by its place in the zip */
    private static function entries(\ZipArchive $zip, string $name): array
    {
        if ($zip->numFiles > self::MOST_FILES) {
            throw new Unreadable(\sprintf('%s holds more than %s files.', $name, number_format(self::MOST_FILES)));
        }
        $entries = [];
        $bytes = $kits = 0;
        for ($i = 0; $i < $zip->numFiles; ++$i) {
            $entry = $zip->statIndex($i);
            $inside = false === $entry ? '' : Text::cleaned($entry['name']);
            if (false === $entry || '' === $inside || str_starts_with($inside, '..') || str_ends_with($entry['name'], '/') || str_starts_with(basename($inside), '._')) {
                continue;
            }
            if (($bytes += $entry['size']) > self::MOST_BYTES) {
                throw new Unreadable(\sprintf('%s holds more than %d GB.', $name, intdiv(self::MOST_BYTES, 1_000_000_000)));
            }
            if (($kits += (int) preg_match('/\.sfz$/i', $inside)) > self::MOST_KITS) {
                throw new Unreadable(\sprintf('%s holds more than %d SFZ files. Bring them in by several archives.', $name, self::MOST_KITS));
            }
            $entries[$i] = [$inside, $entry['size']];
        }

        return $entries;
    }

    private static function write(\ZipArchive $zip, int $i, int $size, string $to, string $named): void
    {
        $from = $zip->getStreamIndex($i);
        if (false === $from) {
            throw new Unreadable(\sprintf('%s is damaged and cannot be read.', $named));
        }
        @mkdir(\dirname($to), 0o700, true);
        $file = @fopen($to, 'x');
        if (false === $file) {
            throw new Unreadable(\sprintf('%s has a name that cannot be used, or comes twice.', $named));
        }
        // A size that lies is not believed.
        $written = stream_copy_to_stream($from, $file, $size + 1);
        fclose($file);
        if ($written !== $size) {
            throw new Unreadable(\sprintf('%s cannot be unpacked whole: it is damaged, or the disk is full.', $named));
        }
    }
}
