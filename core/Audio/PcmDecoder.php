<?php

namespace Pestle\Core\Audio;

/**
 * Interleaved sample values from a file to numbers: integers to ±1 by 2^(bits-1),
 * floats as they are. Eight-bit WAV is unsigned, eight-bit AIFF signed.
 */
final readonly class PcmDecoder
{
    /** Floats beyond, 48 dB above full scale, are cut there. */
    public const LOUDEST = 256.0;
    /** Bytes of eight values of 24 bits, in three words. */
    private const EIGHT_OF_24 = 24;
    /** @var list<array{float, float}> to the left and to the right, of each channel of more than two */
    private array $gains;

    public function __construct(
        private SampleFormat $format,
        private int $channels,
        private bool $bigEndian = false,
        private bool $signedBytes = false,
        int $places = 0,
    ) {
        $this->gains = $channels > 2 ? Downmix::gains($channels, $places) : [];
    }

    public function frameBytes(): int
    {
        return $this->format->bytes() * $this->channels;
    }

    /** Whole frames in $bytes as stereo; one channel goes to both sides, more than two are folded down. */
    public function decode(string $bytes): StereoBlock
    {
        $frames = intdiv(\strlen($bytes), $this->frameBytes());
        if (SampleFormat::Int16 === $this->format && !$this->bigEndian && $this->channels <= 2) {
            return 2 === $this->channels ? $this->stereo16($bytes, $frames) : $this->mono16($bytes, $frames);
        }
        $values = $this->values($bytes);
        if (1 === $this->channels) {
            return new StereoBlock($values, $values);
        }

        return 2 === $this->channels ? $this->pairs($values) : $this->folded($values, $frames);
    }

    /** Whether values are of 16 bits and in the order of Unpacked::words(). */
    public function isInWords(): bool
    {
        return SampleFormat::Int16 === $this->format && !$this->bigEndian;
    }

    private function stereo16(string $bytes, int $frames): StereoBlock
    {
        $scale = 1.0 / 32768.0;
        $bytes = Unpacked::wholeWords($bytes);
        $left = $right = array_fill(0, intdiv(\strlen($bytes), 4), 0.0);
        $i = 0;
        for ($at = 0, $n = \strlen($bytes); $at < $n; $at += Unpacked::WORD_BYTES) {
            foreach (Unpacked::words($bytes, $at) as $w) {
                if (!\is_int($w)) {
                    throw new \TypeError('Words are integers.');
                }
                $left[$i] = (($w << 48) >> 48) * $scale;
                $right[$i] = (($w << 32) >> 48) * $scale;
                ++$i;
                $left[$i] = (($w << 16) >> 48) * $scale;
                $right[$i] = ($w >> 48) * $scale;
                ++$i;
            }
        }

        return new StereoBlock(\array_slice($left, 0, $frames), \array_slice($right, 0, $frames));
    }

    private function mono16(string $bytes, int $frames): StereoBlock
    {
        $scale = 1.0 / 32768.0;
        $bytes = Unpacked::wholeWords($bytes);
        $out = [];
        for ($at = 0, $n = \strlen($bytes); $at < $n; $at += Unpacked::WORD_BYTES) {
            foreach (Unpacked::words($bytes, $at) as $w) {
                if (!\is_int($w)) {
                    throw new \TypeError('Words are integers.');
                }
                $out[] = (($w << 48) >> 48) * $scale;
                $out[] = (($w << 32) >> 48) * $scale;
                $out[] = (($w << 16) >> 48) * $scale;
                $out[] = ($w >> 48) * $scale;
            }
        }
        $out = \array_slice($out, 0, $frames);

        return new StereoBlock($out, $out);
    }

    /** @return list<float> */
    private function values(string $bytes): array
    {
        return match ($this->format) {
            // Unsigned bytes are signed ones with their highest bit turned over.
            SampleFormat::Int8 => self::signed(Unpacked::numbers('C', 1, $this->signedBytes ? $bytes : $bytes ^ str_repeat("\x80", \strlen($bytes))), 8),
            SampleFormat::Int16 => self::signed(Unpacked::numbers($this->bigEndian ? 'n' : 'v', 2, $bytes), 16),
            SampleFormat::Int24 => $this->bigEndian ? array_reverse(self::twentyFour(strrev($bytes))) : self::twentyFour($bytes),
            SampleFormat::Int32 => self::signed(Unpacked::numbers($this->bigEndian ? 'N' : 'V', 4, $bytes), 32),
            SampleFormat::Float32 => self::floats(Unpacked::numbers($this->bigEndian ? 'G' : 'g', 4, $bytes)),
            SampleFormat::Float64 => self::floats(Unpacked::numbers($this->bigEndian ? 'E' : 'e', 8, $bytes)),
        };
    }

    /**
     * @param list<mixed> $unsigned
     *
     * @return list<float>
     */
    private static function signed(array $unsigned, int $bits): array
    {
        $shift = 64 - $bits;
        $scale = 1.0 / 2 ** ($bits - 1);
        $out = [];
        foreach ($unsigned as $v) {
            $out[] = \is_int($v) ? (($v << $shift) >> $shift) * $scale : 0.0;
        }

        return $out;
    }

    /**
     * Little-endian: eight values are taken out of three words.
     *
     * @return list<float>
     */
    private static function twentyFour(string $bytes): array
    {
        $count = intdiv(\strlen($bytes), 3);
        $words = Unpacked::numbers('q', 8, str_pad($bytes, self::EIGHT_OF_24 * (int) ceil($count / 8), "\0"));
        $scale = 1.0 / 8388608.0;
        $out = array_fill(0, intdiv(8 * \count($words), 3), 0.0);
        $i = 0;
        for ($k = 0, $n = \count($words); $k < $n; $k += 3) {
            $a = $words[$k];
            $b = $words[$k + 1];
            $c = $words[$k + 2];
            if (!\is_int($a) || !\is_int($b) || !\is_int($c)) {
                throw new \TypeError('Words are integers.');
            }
            $out[$i] = (($a << 40) >> 40) * $scale;
            $out[$i + 1] = (($a << 16) >> 40) * $scale;
            $out[$i + 2] = ((($b << 56) >> 40) | (($a >> 48) & 0xFFFF)) * $scale;
            $out[$i + 3] = (($b << 32) >> 40) * $scale;
            $out[$i + 4] = (($b << 8) >> 40) * $scale;
            $out[$i + 5] = ((($c << 48) >> 40) | (($b >> 56) & 0xFF)) * $scale;
            $out[$i + 6] = (($c << 24) >> 40) * $scale;
            $out[$i + 7] = ($c >> 40) * $scale;
            $i += 8;
        }

        return \array_slice($out, 0, $count);
    }

    /**
     * @param list<mixed> $values
     *
     * @return list<float>
     */
    private static function floats(array $values): array
    {
        foreach ($values as $i => $v) {
            // What is no number or has no end would poison every filter after it, so would sums of what is huge; what is next to nothing slows down.
            $values[$i] = match (true) {
                !\is_float($v) || ($v < 1e-30 && $v > -1e-30) || !is_finite($v) => 0.0,
                $v > self::LOUDEST => self::LOUDEST,
                $v < -self::LOUDEST => -self::LOUDEST,
                default => $v,
            };
        }

        return $values;
    }

    /** @param list<float> $values */
    private function pairs(array $values): StereoBlock
    {
        $frames = intdiv(\count($values), 2);
        $left = $right = 0 === $frames ? [] : array_fill(0, $frames, 0.0);
        for ($i = 0; $i < $frames; ++$i) {
            $left[$i] = $values[2 * $i];
            $right[$i] = $values[2 * $i + 1];
        }

        return new StereoBlock(array_values($left), array_values($right));
    }

    /**
     * First and second channel stay left and right; the others are added to both sides at -3 dB,
     * in the spirit of ITU-R BS.775 where the order of channels is not known.
     *
     * @param list<float> $values
     */
    private function folded(array $values, int $frames): StereoBlock
    {
        $left = $right = [];
        for ($f = 0, $at = 0; $f < $frames; ++$f) {
            $l = $r = 0.0;
            foreach ($this->gains as [$toLeft, $toRight]) {
                $value = $values[$at++];
                $l += $toLeft * $value;
                $r += $toRight * $value;
            }
            $left[] = $l;
            $right[] = $r;
        }

        return new StereoBlock($left, $right);
    }
}
