<?php

namespace Pestle\Core\Audio;

/**
 * Opens RIFF/WAVE files: PCM 8 to 32 bit, float 32 and 64, plain or extensible headers,
 * also RF64 and BW64. Sizes that contradict the file are repaired and said.
 * Source: Microsoft/IBM "Multimedia Programming Interface and Data Specifications 1.0"; EBU Tech 3306 for RF64; ITU-R BS.2088 for BW64.
 */
final class WavReader
{
    private const PCM = 1;
    private const FLOAT = 3;
    private const EXTENSIBLE = 0xFFFE;
    /** Sound that does not begin by then is not looked for: gigabytes of empty chunks would take minutes. */
    private const MOST_CHUNKS = 10_000;

    /** @throws UnreadableAudio */
    public static function open(string $path, ?string $name = null): PcmFile
    {
        $name ??= basename($path);
        $stream = @fopen($path, 'r');
        if (false === $stream) {
            throw UnreadableAudio::because($name, 'the file cannot be opened. Check that it still exists.');
        }

        return self::read($stream, $name);
    }

    /**
     * @param resource $stream
     *
     * @throws UnreadableAudio
     */
    public static function read($stream, string $name): PcmFile
    {
        $size = fstat($stream)['size'] ?? 0;
        $head = (string) fread($stream, 12);
        if (\strlen($head) < 12 || !\in_array(substr($head, 0, 4), ['RIFF', 'RF64', 'BW64'], true) || 'WAVE' !== substr($head, 8)) {
            throw UnreadableAudio::because($name, 'this is not a WAV file. Export it again as WAV, or choose another file.');
        }
        $format = null;
        $long = null;
        for ($chunks = 0; $chunks < self::MOST_CHUNKS && 8 === \strlen($chunk = (string) fread($stream, 8)); ++$chunks) {
            /** @var array{id: string, size: int} $c */
            $c = unpack('a4id/Vsize', $chunk);
            $start = (int) ftell($stream);
            if ('ds64' === $c['id']) {
                $long = substr((string) fread($stream, 16), 8, 8);
            } elseif ('fmt ' === $c['id']) {
                $format = self::format((string) fread($stream, max(1, min($c['size'], 64))), $name);
            } elseif ('data' === $c['id']) {
                $length = $c['size'];
                if (0xFFFFFFFF === $length && null !== $long && 8 === \strlen($long)) {
                    $unpacked = unpack('P', $long);
                    $length = false !== $unpacked && \is_int($unpacked[1]) ? $unpacked[1] : $length;
                }

                return self::file($stream, $name, $format, $start, $length, $size);
            }
            if ($start + $c['size'] > $size) {
                break;
            }
            fseek($stream, $start + $c['size'] + $c['size'] % 2);
        }

        throw UnreadableAudio::because($name, 'the WAV file ends before its sound begins. Export it again, it is cut short.');
    }

    /** @return array{SampleFormat, int<1, max>, int<1, max>, int} format, channels, rate, places of channels */
    private static function format(string $bytes, string $name): array
    {
        if (\strlen($bytes) < 16) {
            throw UnreadableAudio::because($name, 'the WAV header is cut short. Export the file again.');
        }
        /** @var array{tag: int, channels: int, rate: int, bits: int} $f */
        $f = unpack('vtag/vchannels/Vrate/Vbytes/valign/vbits', $bytes);
        $tag = $f['tag'];
        $places = 0;
        if (self::EXTENSIBLE === $tag && \strlen($bytes) >= 26) {
            /** @var array{places: int, tag: int} $more */
            $more = unpack('Vplaces/vtag', substr($bytes, 20, 6));
            ['places' => $places, 'tag' => $tag] = $more;
        }
        if ($f['channels'] < 1 || $f['channels'] > 64) {
            throw UnreadableAudio::because($name, \sprintf('its header says %d channels; Pestle reads 1 to 64.', $f['channels']));
        }
        if ($f['rate'] < 1000 || $f['rate'] > 768000) {
            throw UnreadableAudio::because($name, \sprintf('its header says %d Hz; Pestle reads 1,000 to 768,000 Hz.', $f['rate']));
        }
        $format = match (true) {
            self::PCM === $tag => SampleFormat::tryFrom((string) $f['bits']),
            self::FLOAT === $tag => SampleFormat::tryFrom($f['bits'].'f'),
            default => null,
        };
        if (null === $format) {
            throw UnreadableAudio::because($name, \sprintf('this kind of WAV (code %d, %d bit) is not supported. Export it as PCM or float.', $tag, $f['bits']));
        }

        return [$format, $f['channels'], $f['rate'], $places];
    }

    /**
     * @param resource                                                $stream
     * @param array{SampleFormat, int<1, max>, int<1, max>, int}|null $format
     */
    private static function file($stream, string $name, ?array $format, int $start, int $length, int $size): PcmFile
    {
        if (null === $format) {
            throw UnreadableAudio::because($name, 'the WAV file does not say its format before its sound. Export it again.');
        }
        [$sampleFormat, $channels, $rate, $places] = $format;
        $frameBytes = $sampleFormat->bytes() * $channels;
        $there = max(0, $size - $start);
        $repairs = [];
        if ($length > $there) {
            $repairs[] = \sprintf('the header promises %s bytes of sound, %s are there; what is there was read', number_format($length), number_format($there));
            $length = $there;
        } elseif (0 === $length && $there > $frameBytes && !self::isChunk($stream, $there)) {
            $repairs[] = 'the header gives no length of sound; the rest of the file was read';
            $length = $there;
        }
        $frames = intdiv($length, $frameBytes);
        if (0 === $frames) {
            throw UnreadableAudio::because($name, 'there is no sound in it. Choose another file.');
        }

        return new PcmFile($stream, $start, $frames, $rate, $channels, $sampleFormat, $repairs, places: $places);
    }

    /**
     * Whether a chunk follows, rather than sound of a writer that never came back to say its length.
     *
     * @param resource $stream
     */
    private static function isChunk($stream, int $there): bool
    {
        $head = unpack('a4id/Vsize', str_pad((string) fread($stream, 8), 8, "\0"));

        return false !== $head && \is_string($head['id']) && 1 === preg_match('/^[A-Za-z][\w ]{3}$/', $head['id']) && $head['size'] <= $there - 8;
    }
}
