<?php

namespace Pestle\App\Shelf;

use Pestle\App\Entity\Sample;
use Pestle\App\Entity\ShelvedKit;
use Pestle\App\Gather\SampleStore;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Audio\WavLoop;
use Pestle\Core\Beat\KitSheet;
use Pestle\Core\Exchange\KitArchive;
use Pestle\Core\Exchange\Sfz\Reading;
use Pestle\Core\Exchange\Sfz\Text;
use Pestle\Core\Exchange\Sfz\Unreadable;
use Pestle\Core\Kit\Layer;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\Finder\Finder;

/** Brings kits in from SFZ files, alone with their samples beside them or in a zip, and carries them out as a zip. */
final readonly class KitFiles
{
    private const MOST_FILES = 5000;
    private const MOST_BYTES = 4_000_000_000;

    public function __construct(private SampleStore $samples, private KitShelf $shelf)
    {
    }

    /**
     * @param string                          $as       "kit", "keys", or "" for the likelier
     * @param (\Closure(int, int): void)|null $progress takes how many sounds are in, and of how many
     *
     * @return list<array{ShelvedKit, KitSheet, list<string>}> what came in: one for each SFZ file, and what it could not carry
     *
     * @throws Unreadable
     */
    public function in(string $path, string $name, string $as = '', ?\Closure $progress = null): array
    {
        if (!is_file($path)) {
            throw new Unreadable(\sprintf('%s is not there.', $name));
        }
        if ('zip' !== strtolower(pathinfo($name, \PATHINFO_EXTENSION))) {
            $whole = (string) realpath($path);

            return [$this->fromFolder('/', ltrim($whole, '/'), $as, $progress)];
        }
        $folder = sys_get_temp_dir().'/pestle-kit-'.bin2hex(random_bytes(8));
        mkdir($folder, 0o700);
        try {
            self::unpack($path, $name, $folder);
            $found = [];
            foreach ((new Finder())->files()->in($folder)->name('/\.sfz$/i')->sortByName() as $file) {
                // Files that others include have no samples of their own to play.
                $found[] = $file->getRelativePathname();
            }
            $kits = $refused = [];
            foreach ($found as $sfz) {
                try {
                    $kits[] = $this->fromFolder($folder, $sfz, $as, $progress);
                } catch (Unreadable $e) {
                    $refused[] = $e->getMessage();
                }
            }

            return [] !== $kits ? $kits : throw new Unreadable($refused[0] ?? \sprintf('%s holds no SFZ file.', $name));
        } finally {
            (new Filesystem())->remove($folder);
        }
    }

    private static function unpack(string $path, string $name, string $folder): void
    {
        $zip = new \ZipArchive();
        if (true !== $zip->open($path, \ZipArchive::RDONLY)) {
            throw new Unreadable(\sprintf('%s is no zip archive that can be read.', $name));
        }
        $bytes = 0;
        if ($zip->numFiles > self::MOST_FILES) {
            throw new Unreadable(\sprintf('%s holds more than %s files.', $name, number_format(self::MOST_FILES)));
        }
        for ($i = 0; $i < $zip->numFiles; ++$i) {
            $entry = $zip->statIndex($i);
            $inside = false === $entry ? '' : Text::cleaned($entry['name']);
            if (false === $entry || '' === $inside || str_starts_with($inside, '..') || str_ends_with($entry['name'], '/') || str_starts_with(basename($inside), '._')) {
                continue;
            }
            if (($bytes += $entry['size']) > self::MOST_BYTES) {
                throw new Unreadable(\sprintf('%s holds more than %d GB.', $name, intdiv(self::MOST_BYTES, 1_000_000_000)));
            }
            $from = $zip->getStreamIndex($i);
            if (false === $from) {
                throw new Unreadable(\sprintf('%s is damaged: %s cannot be read.', $name, $inside));
            }
            @mkdir(\dirname($folder.'/'.$inside), 0o700, true);
            // A size that lies is not believed.
            if (false === @file_put_contents($folder.'/'.$inside, stream_get_contents($from, $entry['size'] + 1))) {
                throw new Unreadable(\sprintf('%s cannot be unpacked: %s has a name that cannot be used.', $name, $inside));
            }
        }
    }

    /**
     * @param (\Closure(int, int): void)|null $progress
     *
     * @return array{ShelvedKit, KitSheet, list<string>}
     */
    private function fromFolder(string $folder, string $sfz, string $as, ?\Closure $progress): array
    {
        $beside = '.' === \dirname($sfz) ? '' : \dirname($sfz).'/';
        $open = static function (string $path) use ($folder, $beside): ?string {
            $found = self::found($folder, $beside.$path);

            return null === $found || filesize($found) > 8_000_000 ? null : (string) file_get_contents($found);
        };
        $loop = static fn (string $path): ?array => null === ($found = self::found($folder, $beside.$path)) ? null : WavLoop::in($found);
        [$sheet, $told] = Reading::of(basename($sfz), $open, $as, $loop);
        $missing = [];
        $samples = $this->brought($folder, $beside, $sheet, $missing, $progress);
        if ([] === $samples) {
            throw new Unreadable(\sprintf('%s: none of its samples is there; the first is %s. Put them beside it, in the folders it names.', basename($sfz), array_key_first($missing)));
        }
        foreach ($missing as $path => $why) {
            $told[] = $path.': '.$why;
        }
        $sheet = self::with($sheet, $samples);
        $kit = new ShelvedKit(mb_substr($sheet->name, 0, 80));
        $this->shelf->save($kit, $sheet);

        return [$kit, $sheet, $told];
    }

    /**
     * @param array<string, string>           $missing  takes the samples that are not there or cannot be read, with the reason
     * @param (\Closure(int, int): void)|null $progress
     *
     * @return array<string, Sample> by path
     */
    private function brought(string $folder, string $beside, KitSheet $sheet, array &$missing, ?\Closure $progress): array
    {
        $samples = [];
        $paths = $sheet->samples();
        foreach ($paths as $i => $path) {
            if (null !== $progress) {
                $progress((int) $i, \count($paths));
            }
            $found = self::found($folder, $beside.$path);
            try {
                if (null === $found) {
                    $missing[$path] = 'the sample is not there';
                } else {
                    $samples[$path] = $this->samples->add($found, basename($path));
                }
            } catch (UnreadableAudio $e) {
                $missing[$path] = $e->getMessage();
            }
        }

        return $samples;
    }

    /** A file below a folder, whatever the case of its letters; never one above it. */
    private static function found(string $folder, string $path): ?string
    {
        $at = rtrim($folder, '/');
        foreach (explode('/', Text::cleaned($path)) as $part) {
            if ('..' === $part) {
                return null;
            }
            if (!file_exists($at.'/'.$part)) {
                $part = array_values(array_filter(is_dir($at.'/') ? (@scandir($at.'/') ?: []) : [], static fn (string $name): bool => mb_strtolower($name) === mb_strtolower($part)))[0] ?? null;
            }
            if (null === $part) {
                return null;
            }
            $at .= '/'.$part;
        }

        return is_file($at) ? $at : null;
    }

    /** @param array<string, Sample> $samples by path */
    private static function with(KitSheet $sheet, array $samples): KitSheet
    {
        return $sheet->without(static fn (Layer $l): bool => !isset($samples[$l->sample]))->mapSounds(static function (Layer $l) use ($samples): Layer {
            $sample = $samples[$l->sample];
            $end = min($sample->frames, $l->end);
            $start = min($l->start, $end - 1);
            $loops = null !== $l->loopStart && $l->loopStart >= $start && $l->loopEnd <= $end;

            return $l->with(['sample' => $sample->hash, 'start' => $start, 'end' => $end, ...$loops ? [] : ['loopStart' => null, 'loopEnd' => null]]);
        });
    }

    /** @return list<string> what could not be carried */
    public function out(KitSheet $sheet, string $path): array
    {
        $names = array_map(static fn (Sample $s): string => $s->name, $this->samples->named($sheet->samples()));

        return KitArchive::write($sheet, $path, $this->samples->library(), $names);
    }
}
