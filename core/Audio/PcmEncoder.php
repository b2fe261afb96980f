<?php

namespace Pestle\Core\Audio;

/** Stereo numbers to interleaved little-endian sample values; integers are clipped at full scale. */
final class PcmEncoder
{
    private const CHUNK = 4096;

    public function __construct(private readonly SampleFormat $format, private readonly ?Dither $dither = null)
    {
        if (!\in_array($format, [SampleFormat::Int16, SampleFormat::Int24, SampleFormat::Float32], true)) {
            throw new \InvalidArgumentException('Pestle writes 16 bit, 24 bit and 32 bit float.');
        }
    }

    public function encode(StereoBlock $block): string
    {
        $out = '';
        for ($at = 0, $n = $block->frames(); $at < $n; $at += self::CHUNK) {
            $part = $n <= self::CHUNK ? $block : $block->slice($at, self::CHUNK);
            $out .= match ($this->format) {
                SampleFormat::Float32 => self::float32($part),
                SampleFormat::Int24 => self::int24($this->steps($part->left, 8388608.0), $this->steps($part->right, 8388608.0)),
                default => self::int16($this->steps($part->left, 32768.0), $this->steps($part->right, 32768.0)),
            };
        }

        return $out;
    }

    /**
     * @param list<float> $values
     *
     * @return list<int>
     */
    private function steps(array $values, float $scale): array
    {
        $top = 2 * (int) $scale - 1;
        $middle = (int) $scale;
        // Rounding by cutting off the part behind the point, above zero.
        $half = $scale + 0.5;
        if (null !== $this->dither) {
            foreach ($this->dither->block(\count($values)) as $i => $d) {
                $values[$i] += $d / $scale;
            }
        }
        $out = [];
        foreach ($values as $x) {
            $x = $x * $scale + $half;
            if ($x < 0.0) {
                $out[] = -$middle;
            } else {
                $step = (int) $x;
                $out[] = ($step > $top ? $top : $step) - $middle;
            }
        }

        return $out;
    }

    private static function float32(StereoBlock $block): string
    {
        $out = [];
        foreach ($block->left as $i => $l) {
            $out[] = $l;
            $out[] = $block->right[$i];
        }

        return pack('g*', ...$out);
    }

    /**
     * Both sides of a frame in one integer.
     *
     * @param list<int> $left
     * @param list<int> $right
     */
    private static function int16(array $left, array $right): string
    {
        foreach ($left as $i => $l) {
            $left[$i] = ($l & 0xFFFF) | (($right[$i] & 0xFFFF) << 16);
        }

        return pack('V*', ...$left);
    }

    /**
     * Two frames (four values of three bytes) in three integers.
     *
     * @param list<int> $left
     * @param list<int> $right
     */
    private static function int24(array $left, array $right): string
    {
        $frames = \count($left);
        if (0 !== $frames % 2) {
            $left[] = $right[] = 0;
        }
        $out = [];
        for ($i = 0; $i < $frames; $i += 2) {
            $a = $left[$i] & 0xFFFFFF;
            $b = $right[$i] & 0xFFFFFF;
            $c = $left[$i + 1] & 0xFFFFFF;
            $d = $right[$i + 1] & 0xFFFFFF;
            $out[] = $a | (($b & 0xFF) << 24);
            $out[] = ($b >> 8) | (($c & 0xFFFF) << 16);
            $out[] = ($c >> 16) | ($d << 8);
        }

        return substr(pack('V*', ...$out), 0, $frames * 6);
    }
}
