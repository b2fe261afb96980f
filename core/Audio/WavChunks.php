<?php

namespace Pestle\Core\Audio;

/** Chunks of a WAV file beside its sound, of RIFF, RF64 and BW64. */
final class WavChunks
{
    /** Further ones are not looked at: a file of endless empty ones would take minutes. */
    private const MOST = 1000;
    private const MOST_BYTES = 200_000;

    /** @return array<string, string> the first of each of these names that is there, or the beginning of a long one */
    public static function of(string $path, string ...$names): array
    {
        $stream = @fopen($path, 'r');
        if (false === $stream) {
            return [];
        }
        try {
            $found = [];
            if (!preg_match('/^(RIFF|RF64|BW64)....WAVE$/s', (string) fread($stream, 12))) {
                return [];
            }
            for ($count = 0; $count < self::MOST && 8 === \strlen($head = (string) fread($stream, 8)); ++$count) {
                /** @var array{id: string, size: int} $chunk */
                $chunk = unpack('a4id/Vsize', $head);
                $after = ftell($stream) + $chunk['size'] + $chunk['size'] % 2;
                if (\in_array($chunk['id'], $names, true) && $chunk['size'] > 0) {
                    $found[$chunk['id']] ??= (string) fread($stream, min($chunk['size'], self::MOST_BYTES));
                }
                if (\count($found) === \count($names) || 0 !== fseek($stream, $after)) {
                    break;
                }
            }

            return $found;
        } finally {
            fclose($stream);
        }
    }
}
