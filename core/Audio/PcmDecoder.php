<?php

namespace Pestle\Core\Audio;

/**
 * Interleaved sample values from a file to numbers: integers to ±1 by 2^(bits-1),
 * floats as they are. Eight-bit WAV is unsigned, eight-bit AIFF signed.
 */
final readonly class PcmDecoder
{
    /** How much words() takes apart at once. */
    public const WORD_BYTES = 256;
    /** A name of one letter for every integer: unpack() takes half the time when it need not make up numbers. */
    private const WORDS = 'qA/qB/qC/qD/qE/qF/qG/qH/qI/qJ/qK/qL/qM/qN/qO/qP/qQ/qR/qS/qT/qU/qV/qW/qX/qY/qZ/qa/qb/qc/qd/qe/qf';

    public function __construct(
        private SampleFormat $format,
        private int $channels,
        private bool $bigEndian = false,
        private bool $signedBytes = false,
    ) {
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

    /** Whether words() can take the values apart. */
    public function inWords(): bool
    {
        return SampleFormat::Int16 === $this->format && !$this->bigEndian;
    }

    /**
     * Some of the 16-bit values of $bytes, four in one 64-bit integer from the lowest bits up: taking them out of there is
     * much faster than one by one.
     *
     * @param string $bytes of a multiple of WORD_BYTES
     *
     * @return array<mixed> the WORD_BYTES from $offset on, as integers
     */
    public static function words(string $bytes, int $offset): array
    {
        return unpack(self::WORDS, $bytes, $offset) ?: [];
    }

    private function stereo16(string $bytes, int $frames): StereoBlock
    {
        $scale = 1.0 / 32768.0;
        $bytes = self::wholeWords($bytes);
        $left = $right = array_fill(0, intdiv(\strlen($bytes), 4), 0.0);
        $i = 0;
        for ($at = 0, $n = \strlen($bytes); $at < $n; $at += self::WORD_BYTES) {
            foreach (self::words($bytes, $at) as $w) {
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
        $bytes = self::wholeWords($bytes);
        $out = [];
        for ($at = 0, $n = \strlen($bytes); $at < $n; $at += self::WORD_BYTES) {
            foreach (self::words($bytes, $at) as $w) {
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

    private static function wholeWords(string $bytes): string
    {
        return str_pad($bytes, self::WORD_BYTES * (int) ceil(\strlen($bytes) / self::WORD_BYTES), "\0");
    }

    /** @return list<float> */
    private function values(string $bytes): array
    {
        $values = match ($this->format) {
            SampleFormat::Int8 => $this->eight($bytes),
            SampleFormat::Int16 => $this->signed(self::unpacked($this->bigEndian ? 'n*' : 'v*', $bytes), 16),
            SampleFormat::Int24 => $this->twentyFour($bytes),
            SampleFormat::Int32 => $this->signed(self::unpacked($this->bigEndian ? 'N*' : 'V*', $bytes), 32),
            SampleFormat::Float32 => self::floats($this->bigEndian ? 'G*' : 'g*', $bytes),
            SampleFormat::Float64 => self::floats($this->bigEndian ? 'E*' : 'e*', $bytes),
        };

        return $values;
    }

    /**
     * @param array<int, int> $unsigned
     *
     * @return list<float>
     */
    private function signed(array $unsigned, int $bits): array
    {
        $shift = 64 - $bits;
        $scale = 1.0 / 2 ** ($bits - 1);
        $out = [];
        foreach ($unsigned as $v) {
            $out[] = (($v << $shift) >> $shift) * $scale;
        }

        return $out;
    }

    /** @return list<float> */
    private function eight(string $bytes): array
    {
        if ($this->signedBytes) {
            return $this->signed(self::unpacked('C*', $bytes), 8);
        }
        $out = [];
        foreach (self::unpacked('C*', $bytes) as $v) {
            $out[] = ($v - 128) / 128.0;
        }

        return $out;
    }

    /** @return list<float> */
    private function twentyFour(string $bytes): array
    {
        $b = self::unpacked('C*', $bytes);
        [$low, $high] = $this->bigEndian ? [3, 1] : [1, 3];
        $scale = 1.0 / 8388608.0;
        $out = [];
        for ($i = 0, $n = \count($b) - 2; $i < $n; $i += 3) {
            $v = $b[$i + $low] | ($b[$i + 2] << 8) | ($b[$i + $high] << 16);
            $out[] = (($v << 40) >> 40) * $scale;
        }

        return $out;
    }

    /** @return list<float> */
    private static function floats(string $code, string $bytes): array
    {
        $out = [];
        foreach (unpack($code, $bytes) ?: [] as $v) {
            // Not a number and infinity would poison every filter after them.
            $out[] = \is_float($v) && is_finite($v) ? $v : 0.0;
        }

        return $out;
    }

    /** @return array<int, int> */
    private static function unpacked(string $code, string $bytes): array
    {
        /** @var array<int, int> $values */
        $values = '' === $bytes ? [] : unpack($code, $bytes);

        return $values;
    }

    /** @param list<float> $values */
    private function pairs(array $values): StereoBlock
    {
        $left = $right = [];
        for ($i = 0, $n = \count($values) - 1; $i < $n; $i += 2) {
            $left[] = $values[$i];
            $right[] = $values[$i + 1];
        }

        return new StereoBlock($left, $right);
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
        for ($f = 0; $f < $frames; ++$f) {
            $at = $f * $this->channels;
            $rest = 0.0;
            for ($c = 2; $c < $this->channels; ++$c) {
                $rest += $values[$at + $c];
            }
            $left[] = $values[$at] + $rest * \M_SQRT1_2;
            $right[] = $values[$at + 1] + $rest * \M_SQRT1_2;
        }

        return new StereoBlock($left, $right);
    }
}
