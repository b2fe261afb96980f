<?php

namespace Pestle\Core\Audio;

/** Stereo numbers to interleaved little-endian sample values; integers are clipped at full scale. */
final class PcmEncoder
{
    private const CHUNK = 4096;
    /** One and a half times two to the power of 52: what is this large has no places behind the point. */
    private const WHOLE = 6755399441055744.0;

    /** @var list<NoiseShaping> one a side, where rounding is shaped */
    private readonly array $shaping;

    public function __construct(private readonly SampleFormat $format, private readonly ?Dither $dither = null)
    {
        if (!\in_array($format, [SampleFormat::Int16, SampleFormat::Int24, SampleFormat::Float32], true)) {
            throw new \InvalidArgumentException('Pestle writes 16 bit, 24 bit and 32 bit float.');
        }
        $this->shaping = $dither->shaped ?? false ? [new NoiseShaping(), new NoiseShaping()] : [];
    }

    public function encode(StereoBlock $block): string
    {
        $out = '';
        for ($at = 0, $n = $block->frames(); $at < $n; $at += self::CHUNK) {
            $part = $n <= self::CHUNK ? $block : $block->slice($at, self::CHUNK);
            $out .= match ($this->format) {
                SampleFormat::Float32 => self::float32($part),
                SampleFormat::Int24 => self::int24($this->steps($part->left, 8388608.0, 0), $this->steps($part->right, 8388608.0, 1)),
                default => self::int16($this->steps($part->left, 32768.0, 0), $this->steps($part->right, 32768.0, 1)),
            };
        }

        return $out;
    }

    /**
     * @param list<float> $values
     *
     * @return list<float> whole numbers
     */
    private function steps(array $values, float $scale, int $side): array
    {
        if ([] !== $this->shaping && null !== $this->dither) {
            foreach ($values as $i => $x) {
                $values[$i] = $x * $scale;
            }

            return $this->shaping[$side]->rounded(array_values($values), $this->dither->block(\count($values)), $scale);
        }
        if (null !== $this->dither) {
            foreach ($this->dither->block(\count($values)) as $i => $d) {
                $values[$i] += $d / $scale;
            }
        }

        return self::rounded(array_values($values), $scale, $scale - 1.0, self::WHOLE);
    }

    /**
     * @param list<float> $values
     * @param float       $whole  added and taken away again it leaves whole numbers (round half to even, IEEE 754)
     *
     * @return list<float>
     */
    private static function rounded(array $values, float $scale, float $top, float $whole): array
    {
        foreach ($values as $i => $x) {
            if (!\is_float($x)) {
                throw new \TypeError('Sound is floats.');
            }
            $step = ($x * $scale + $whole) - $whole;
            if ($step > $top) {
                $step = $top;
            }
            if ($step < -$scale) {
                $step = -$scale;
            }
            $values[$i] = $step;
        }

        return $values;
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
     * @param list<float> $left
     * @param list<float> $right
     */
    private static function int16(array $left, array $right): string
    {
        foreach ($left as $i => $l) {
            $r = $right[$i];
            if (!\is_float($l) || !\is_float($r)) {
                throw new \TypeError('Sound is floats.');
            }
            if ($l < 0.0) {
                $l += 65536.0;
            }
            $left[$i] = (int) ($r * 65536.0 + $l);
        }

        return pack('V*', ...$left);
    }

    /**
     * Two frames (four values of three bytes) in three integers.
     *
     * @param list<float> $left
     * @param list<float> $right
     */
    private static function int24(array $left, array $right): string
    {
        $frames = \count($left);
        if (0 !== $frames % 2) {
            $left[] = $right[] = 0.0;
        }
        $out = [];
        for ($i = 0; $i < $frames; $i += 2) {
            $a = (int) $left[$i] & 0xFFFFFF;
            $b = (int) $right[$i] & 0xFFFFFF;
            $c = (int) $left[$i + 1] & 0xFFFFFF;
            $d = (int) $right[$i + 1] & 0xFFFFFF;
            $out[] = $a | (($b & 0xFF) << 24);
            $out[] = ($b >> 8) | (($c & 0xFFFF) << 16);
            $out[] = ($c >> 16) | ($d << 8);
        }

        return substr(pack('V*', ...$out), 0, $frames * 6);
    }
}
