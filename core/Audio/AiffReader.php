<?php

namespace Pestle\Core\Audio;

/**
 * Opens AIFF and uncompressed AIFF-C files.
 * Source: Apple, "Audio Interchange File Format: AIFF 1.3" and "AIFF-C draft 1991".
 */
final class AiffReader
{
    /**
     * @param resource $stream
     *
     * @throws UnreadableAudio
     */
    public static function read($stream, string $name): PcmFile
    {
        $size = fstat($stream)['size'] ?? 0;
        $head = (string) fread($stream, 12);
        if (\strlen($head) < 12 || 'FORM' !== substr($head, 0, 4) || !\in_array(substr($head, 8), ['AIFF', 'AIFC'], true)) {
            throw UnreadableAudio::because($name, 'this is not an AIFF file. Choose another file.');
        }
        $common = $sound = null;
        while (8 === \strlen($chunk = (string) fread($stream, 8))) {
            /** @var array{id: string, size: int} $c */
            $c = unpack('a4id/Nsize', $chunk);
            $start = (int) ftell($stream);
            if ('COMM' === $c['id']) {
                $common = (string) fread($stream, max(1, min($c['size'], 64)));
            } elseif ('SSND' === $c['id']) {
                /** @var array{1: int}|false $offset */
                $offset = unpack('N', str_pad((string) fread($stream, 4), 4, "\0"));
                $sound = [$start + 8 + ($offset[1] ?? 0), $c['size'] - 8];
            }
            if ($start + $c['size'] > $size) {
                break;
            }
            fseek($stream, $start + $c['size'] + $c['size'] % 2);
        }
        if (null === $common || \strlen($common) < 18 || null === $sound) {
            throw UnreadableAudio::because($name, 'the AIFF file is cut short. Export it again.');
        }

        return self::file($stream, $name, $common, $sound, $size);
    }

    /**
     * @param resource        $stream
     * @param array{int, int} $sound  offset and length in bytes
     */
    private static function file($stream, string $name, string $common, array $sound, int $size): PcmFile
    {
        /** @var array{channels: int, frames: int, bits: int, exponent: int, mantissa: int} $c */
        $c = unpack('nchannels/Nframes/nbits/nexponent/Nmantissa', $common);
        $compression = \strlen($common) >= 22 ? substr($common, 18, 4) : 'NONE';
        $rate = (int) round($c['mantissa'] * 2.0 ** (($c['exponent'] & 0x7FFF) - 16383 - 31));
        $bits = (int) (ceil($c['bits'] / 8) * 8);
        $format = match ($compression) {
            'NONE', 'twos', 'sowt' => SampleFormat::tryFrom((string) $bits),
            'fl32', 'FL32' => SampleFormat::Float32,
            'fl64', 'FL64' => SampleFormat::Float64,
            default => null,
        };
        if (null === $format || $c['channels'] < 1 || $c['channels'] > 64 || $rate < 1000 || $rate > 768000) {
            throw UnreadableAudio::because($name, 'this kind of AIFF is not supported. Export it uncompressed, 1 to 64 channels.');
        }
        $frameBytes = $format->bytes() * $c['channels'];
        $there = intdiv(max(0, min($sound[1], $size - $sound[0])), $frameBytes);
        $repairs = $there < $c['frames']
            ? [\sprintf('the header promises %s frames, %s are there; what is there was read', number_format($c['frames']), number_format($there))]
            : [];
        $frames = min($there, $c['frames']);
        if ($frames < 1) {
            throw UnreadableAudio::because($name, 'there is no sound in it. Choose another file.');
        }

        return new PcmFile($stream, $sound[0], $frames, $rate, $c['channels'], $format, $repairs, 'sowt' !== $compression, true);
    }
}
