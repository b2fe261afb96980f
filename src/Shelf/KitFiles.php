<?php

namespace Pestle\App\Shelf;

use Pestle\App\Entity\Sample;
use Pestle\App\Entity\ShelvedKit;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Storage\DataFolder;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Audio\WavMarks;
use Pestle\Core\Beat\KitSheet;
use Pestle\Core\Exchange\KitArchive;
use Pestle\Core\Exchange\Sfz\Reading;
use Pestle\Core\Exchange\Sfz\Text;
use Pestle\Core\Exchange\Sfz\Unreadable;
use Pestle\Core\Kit\Layer;
use Symfony\Component\Filesystem\Filesystem;

/** Brings kits in from SFZ files, alone with their samples beside them or in a zip, and carries them out as a zip. */
final readonly class KitFiles
{
    public function __construct(private SampleStore $samples, private KitShelf $shelf, private DataFolder $folder)
    {
    }

    /**
     * @param string                          $as       "kit", "keys", or "" for the likelier
     * @param (\Closure(int, int): void)|null $progress takes how many sounds are in, and of how many
     * @param list<string>                    $with     folders whose files it may name, beside its own
     *
     * @return list<array{ShelvedKit, KitSheet, list<string>}> what came in: one for each SFZ file, and what it could not carry
     *
     * @throws Unreadable
     */
    public function in(string $path, string $name, string $as = '', ?\Closure $progress = null, array $with = []): array
    {
        if (!is_file($path)) {
            throw new Unreadable(\sprintf('%s is not there.', $name));
        }
        foreach ($with as $folder) {
            if (!is_dir($folder)) {
                throw new Unreadable(\sprintf('%s is no folder.', $folder));
            }
        }
        if ('zip' !== strtolower(pathinfo($name, \PATHINFO_EXTENSION))) {
            $beside = \dirname((string) realpath($path));

            return [$this->kit(new Reach($beside, $beside, ...$with), basename((string) realpath($path)), $as, $progress)];
        }
        $folder = $this->folder->incoming().'/zip-'.bin2hex(random_bytes(8));
        mkdir($folder, 0o700);
        try {
            $kits = $refused = [];
            foreach (KitZip::unpack($path, $name, $folder) as $sfz) {
                try {
                    $kits[] = $this->kit(new Reach(\dirname($folder.'/'.$sfz), $folder), basename($sfz), $as, $progress);
                } catch (Unreadable $e) {
                    // Files that others include have no samples of their own to play.
                    $refused[] = $e->getMessage();
                }
            }

            return [] !== $kits ? $kits : throw new Unreadable($refused[0] ?? \sprintf('%s holds no SFZ file.', $name));
        } finally {
            (new Filesystem())->remove($folder);
        }
    }

    /**
     * @param (\Closure(int, int): void)|null $progress
     *
     * @return array{ShelvedKit, KitSheet, list<string>}
     */
    private function kit(Reach $reach, string $sfz, string $as, ?\Closure $progress): array
    {
        $open = static function (string $path) use ($reach): ?string {
            $found = $reach->find($path);

            return null === $found || filesize($found) > Text::MOST_BYTES ? null : (string) file_get_contents($found);
        };
        $loop = static fn (string $path): ?array => null === ($found = $reach->find($path)) ? null : WavMarks::in($found)->loop;
        $root = static fn (string $path): ?int => null === ($found = $reach->find($path)) ? null : WavMarks::in($found)->root;
        [$sheet, $told] = Reading::of($sfz, $open, $as, $loop, $root);
        $missing = [];
        $samples = $this->brought($reach, $sheet, $missing, $progress);
        if ([] === $samples) {
            throw new Unreadable(\sprintf('%s: none of its samples is there; the first is %s. Put them beside it, in the folders it names.', $sfz, array_key_first($missing)));
        }
        foreach ($missing as $path => $why) {
            $told[] = $path.': '.$why;
        }
        foreach ($sheet->sounds() as $layer) {
            if (isset($samples[$layer->sample]) && $layer->start >= $samples[$layer->sample]->frames) {
                $told[] = \sprintf('%s: offset lies beyond its sample; its last frame is played', $layer->name);
            }
        }
        $sheet = self::with($sheet, $samples);
        $kit = new ShelvedKit($sheet->name);
        $this->shelf->save($kit, $sheet);

        return [$kit, $sheet, $told];
    }

    /**
     * @param array<string, string>           $missing  takes the samples that are not there or cannot be read, with the reason
     * @param (\Closure(int, int): void)|null $progress
     *
     * @return array<string, Sample> by path
     */
    private function brought(Reach $reach, KitSheet $sheet, array &$missing, ?\Closure $progress): array
    {
        $samples = [];
        $paths = $sheet->samples();
        foreach ($paths as $i => $path) {
            if (null !== $progress) {
                $progress((int) $i, \count($paths));
            }
            $found = $reach->find($path);
            try {
                if (null === $found) {
                    $missing[$path] = 'the sample is not there, or lies in a folder that did not come with it';
                } else {
                    $samples[$path] = $this->samples->add($found, basename($path));
                }
            } catch (UnreadableAudio $e) {
                $missing[$path] = $e->getMessage();
            }
        }

        return $samples;
    }

    /** @param array<string, Sample> $samples by path */
    private static function with(KitSheet $sheet, array $samples): KitSheet
    {
        return $sheet->without(static fn (Layer $l): bool => !isset($samples[$l->sample]))->mapSounds(static function (Layer $l) use ($samples): Layer {
            $sample = $samples[$l->sample];
            $end = min($sample->frames, $l->end);
            $start = min($l->start, $end - 1);
            $loopEnd = min($end, $l->loopEnd ?? 0);
            $loops = null !== $l->loopStart && $l->loopStart >= $start && $loopEnd > $l->loopStart + 1;

            return $l->with(['sample' => $sample->hash, 'start' => $start, 'end' => $end, 'loopStart' => $loops ? $l->loopStart : null, 'loopEnd' => $loops ? $loopEnd : null]);
        });
    }

    /** @return list<string> what could not be carried */
    public function out(KitSheet $sheet, string $path): array
    {
        $names = array_map(static fn (Sample $s): string => $s->name, $this->samples->named($sheet->samples()));

        return KitArchive::write($sheet, $path, $this->samples->library(), $names);
    }
}
