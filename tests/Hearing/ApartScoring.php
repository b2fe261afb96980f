<?php

namespace Pestle\Tests\Hearing;

use Pestle\Core\Apart\ApartFiles;
use Pestle\Core\Apart\RecordingPart;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Tests\Core\Sounds;

/** How well songs whose parts are known are taken apart. */
final class ApartScoring
{
    /**
     * @param list<string> $truths paths of songs' .json files
     *
     * @return array<string, array{float, float, int}> of each part how many dB it gains over the mixture, the median, and in
     *                                                 the worst song; in how many it is
     */
    public static function gains(array $truths): array
    {
        $gains = [];
        foreach ($truths as $truth) {
            /** @var array{file: string, parts: array<string, string>} $known */
            $known = json_decode((string) file_get_contents($truth), true, 8, \JSON_THROW_ON_ERROR);
            $mix = SoundFile::open($known['file']);
            $files = new ApartFiles(Sounds::folder(), $mix);
            $files->make(static fn (float $done) => null);
            $whole = self::all($known['file']);
            foreach ($known['parts'] as $name => $path) {
                $part = self::all($path);
                $gains[$name][] = SiSdr::of($part, self::all($files->path(RecordingPart::from($name)))) - SiSdr::of($part, $whole);
            }
            array_map(static fn (RecordingPart $part): bool => unlink($files->path($part)), RecordingPart::cases());
        }

        return array_map(static function (array $some): array {
            sort($some);

            return [$some[intdiv(\count($some), 2)], $some[0], \count($some)];
        }, $gains);
    }

    private static function all(string $path): StereoBlock
    {
        $file = SoundFile::open($path);

        return $file->read(0, $file->frames());
    }
}
