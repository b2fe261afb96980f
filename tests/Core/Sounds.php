<?php

namespace Pestle\Tests\Core;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Noise;

/** Sounds with known properties, and folders to keep them in. */
final class Sounds
{
    /** @return list<float> */
    public static function sine(float $hz, int $frames, float $rate = 44100.0, float $level = 0.5): array
    {
        $out = [];
        for ($i = 0; $i < $frames; ++$i) {
            $out[] = $level * sin(2 * \M_PI * $hz * $i / $rate);
        }

        return $out;
    }

    /** Dying noise on both sides: something drum-like. */
    public static function hit(int $seed, int $frames, float $level = 0.7): StereoBlock
    {
        $noise = new Noise($seed);
        $left = $right = [];
        for ($i = 0; $i < $frames; ++$i) {
            $fall = $level * exp(-6.0 * $i / $frames);
            $left[] = $fall * $noise->next();
            $right[] = $fall * $noise->next();
        }

        return new StereoBlock($left, $right);
    }

    public static function folder(): string
    {
        $folder = sys_get_temp_dir().'/pestle-test-'.bin2hex(random_bytes(6));
        mkdir($folder);
        register_shutdown_function(static function () use ($folder): void {
            exec('rm -rf '.escapeshellarg($folder));
        });

        return $folder;
    }

    /** Puts sound into a library and gives the name it has there. */
    public static function put(string $folder, StereoBlock $block, int $rate = 44100, SampleFormat $format = SampleFormat::Int24): string
    {
        $part = $folder.'/'.bin2hex(random_bytes(6));
        $writer = new WavWriter($part, $rate, $format);
        $writer->write($block);
        $writer->close();

        return self::keep($folder, $part);
    }

    /** Moves a file to where samples lie; gives its hash. */
    public static function keep(string $folder, string $file): string
    {
        $hash = (string) hash_file('sha256', $file);
        $path = (new SampleLibrary($folder))->path($hash);
        @mkdir(\dirname($path));
        rename($file, $path);

        return $hash;
    }

    /**
     * Level of everything that is not the sine, against the sine, in dB: the sine is fitted by least squares.
     *
     * @param list<float> $signal
     */
    public static function unwanted(array $signal, float $hz, float $rate): float
    {
        [$cc, $ss, $cs, $xc, $xs] = [0.0, 0.0, 0.0, 0.0, 0.0];
        foreach ($signal as $i => $x) {
            [$c, $s] = [cos(2 * \M_PI * $hz * $i / $rate), sin(2 * \M_PI * $hz * $i / $rate)];
            $cc += $c * $c;
            $ss += $s * $s;
            $cs += $c * $s;
            $xc += $x * $c;
            $xs += $x * $s;
        }
        $det = $cc * $ss - $cs * $cs;
        [$a, $b] = [($xc * $ss - $xs * $cs) / $det, ($xs * $cc - $xc * $cs) / $det];
        $wanted = $rest = 0.0;
        foreach ($signal as $i => $x) {
            $fit = $a * cos(2 * \M_PI * $hz * $i / $rate) + $b * sin(2 * \M_PI * $hz * $i / $rate);
            $wanted += $fit * $fit;
            $rest += ($x - $fit) ** 2;
        }

        return Decibels::fromGain(sqrt($rest / $wanted));
    }

    public static function whole(AudioSource $source): StereoBlock
    {
        return $source->read(0, $source->frames());
    }
}
