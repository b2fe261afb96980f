<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Beat\KitSheet;
use Pestle\Core\Exchange\Sfz\Writing;
use Pestle\Core\Render\SampleLibrary;

/** A kit or an instrument as a zip of an SFZ file and its samples, with their edits worked out. */
final class KitArchive
{
    /**
     * @param string                $path  where it is written; a file of that name goes
     * @param array<string, string> $names of samples, by hash
     *
     * @return list<string> what the format cannot carry
     *
     * @throws UnreadableAudio   when a sample is gone
     * @throws \RuntimeException when it cannot be written
     */
    public static function write(KitSheet $sheet, string $path, SampleLibrary $library, array $names): array
    {
        $part = $path.'.part';
        $zip = new \ZipArchive();
        if (true !== $zip->open($part, \ZipArchive::CREATE | \ZipArchive::OVERWRITE)) {
            throw new \RuntimeException(\sprintf('%s cannot be written.', $path));
        }
        $made = $files = [];
        try {
            [$sheet, $recorded, $called] = RecordedMade::of($sheet, \dirname($path));
            array_push($made, ...array_values($recorded));
            $names += $called;
            foreach ($sheet->samples() as $hash) {
                $file = self::fileName($names[$hash] ?? substr($hash, 0, 12), $files);
                $files[$hash] = $file;
                $source = $recorded[$hash] ?? $library->path($hash);
                if (isset($sheet->edits[$hash])) {
                    $made[] = $source = $part.'.'.$hash.'.wav';
                    WavWriter::copy($library->open($sheet->edits[$hash]->of($hash)), $source, SampleFormat::Float32);
                } elseif (!is_file($source)) {
                    throw UnreadableAudio::because($names[$hash] ?? $hash, 'the sample is gone: bring it in again.');
                }
                $zip->addFile($source, 'samples/'.$file);
            }
            [$text, $lost] = Writing::of($sheet, $files);
            $zip->addFromString(self::fileName($sheet->name, [], 'sfz'), $text);
            if (!$zip->close() || !rename($part, $path)) {
                throw new \RuntimeException(\sprintf('%s cannot be written.', $path));
            }
        } finally {
            array_map(unlink(...), array_filter([...$made, $part], is_file(...)));
        }

        return $lost;
    }

    /** @param array<string, string> $taken */
    private static function fileName(string $name, array $taken, string $extension = 'wav'): string
    {
        $plain = trim((string) preg_replace('/[^\p{L}\p{N} _.#+-]+/u', '_', (string) preg_replace('/\.\w{1,5}$/', '', $name)), ' .') ?: 'sound';
        for ($n = 1; \in_array($file = mb_substr($plain, 0, 80).(1 === $n ? '' : ' '.$n).'.'.$extension, $taken, true); ++$n) {
        }

        return $file;
    }
}
