<?php

namespace Pestle\Tests\Hearing;

use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Synth\Tone;

/**
 * Songs as they come from worn records: off their speed, saturated, with crackle, hum and hiss, dull. Each part suffers as
 * the whole does, so that they still add up to it; the noise lies with melody, as what no part owns.
 */
final class WornSongs
{
    private const RATE = 44100;

    /** @param string $truth path of a song's .json file */
    public static function copy(string $truth, int $seed): string
    {
        mt_srand(6007 * $seed + 11);
        /** @var array{file: string, parts: non-empty-array<string, string>, bpm: float} $known */
        $known = json_decode((string) file_get_contents($truth), true, 8, \JSON_THROW_ON_ERROR);
        $speed = Chance::often(60) ? 1.0 + (Chance::often(50) ? 1 : -1) * Chance::between(0.01, 0.03) : 1.0;
        $hz = Chance::often(65) ? Chance::between(6000, 11000) : 0.0;
        $parts = [];
        $path = \dirname($truth).'/worn-'.basename($truth, '.json');
        foreach ($known['parts'] as $name => $file) {
            Worn::ffmpeg($file, $path.'.wav', \sprintf('asetrate=%.4f,aresample=%d', self::RATE * $speed, self::RATE));
            $source = SoundFile::open($path.'.wav');
            $parts[$name] = $source->read(0, $source->frames());
        }
        $frames = $parts[array_key_first($parts)]->frames();
        $mix = [array_fill(0, $frames, 0.0), array_fill(0, $frames, 0.0)];
        foreach ($parts as $block) {
            foreach ([$block->left, $block->right] as $c => $side) {
                foreach ($side as $i => $x) {
                    $mix[$c][$i] += $x;
                }
            }
        }
        $drive = Chance::often(60) ? Chance::between(0.6, 2.5) : 0.0;
        // What saturation does to all it does to each.
        $gains = [[], []];
        foreach ($mix as $c => $side) {
            foreach ($side as $i => $x) {
                $gains[$c][$i] = $drive > 0.0 && ($x > 1e-6 || $x < -1e-6) ? tanh($drive * $x) / (tanh($drive) * $x) : 1.0;
            }
        }
        foreach ($parts as $name => $block) {
            $sides = [$block->left, $block->right];
            foreach ($sides as $c => $side) {
                foreach ($side as $i => $x) {
                    $side[$i] = 0.8 * $gains[$c][$i] * $x;
                }
                $sides[$c] = $side;
            }
            $parts[$name] = new StereoBlock(...$sides);
        }
        $parts['melody'] = self::noisy($parts['melody'] ?? StereoBlock::silence($frames), $frames / self::RATE);
        $files = [];
        foreach ($parts as $name => $block) {
            $sides = [$block->left, $block->right];
            for ($pass = 0; $hz > 0.0 && $pass < 2; ++$pass) {
                $sides = array_map(static fn (array $side): array => Biquad::lowPass($hz, 0.7, self::RATE)->filter($side), $sides);
            }
            Songs::keep($files[$name] = $path.'.'.$name.'.wav', new StereoBlock(...$sides));
        }
        $sum = ApartCases::mix(array_map(SoundFile::open(...), $files));
        Songs::keep($path.'.wav', $sum->read(0, $sum->frames()));
        file_put_contents($path.'.json', json_encode(['file' => $path.'.wav', 'parts' => $files, 'bpm' => $speed * $known['bpm']], \JSON_THROW_ON_ERROR));

        return $path.'.json';
    }

    private static function noisy(StereoBlock $block, float $seconds): StereoBlock
    {
        $tone = new Tone(self::RATE);
        $level = static fn (float $least, float $most): float => 10 ** (Chance::between($least, $most) / 20);
        $hum = Chance::often(40) ? $level(-56, -38) : 0.0;
        $noise = Tone::mixed([
            [$tone->band($seconds, 200, 12000, mt_rand(1, 99999)), Chance::often(60) ? 2.0 * $level(-64, -44) : 0.0],
            [$tone->sine($seconds, $hz = Chance::often(50) ? 50.0 : 60.0), $hum],
            [$tone->sine($seconds, 2 * $hz, 1.0), 0.6 * $hum],
            [Worn::crackle($seconds, Chance::often(60) ? Chance::between(4, 40) : 0.0), 1.0],
        ]);

        return new StereoBlock(self::with($block->left, $noise), self::with($block->right, $noise));
    }

    /**
     * @param list<float> $side
     * @param list<float> $noise
     *
     * @return list<float>
     */
    private static function with(array $side, array $noise): array
    {
        return array_map(static fn (float $x, int $i): float => $x + ($noise[$i] ?? 0.0), $side, array_keys($side));
    }
}
