<?php

namespace Pestle\Tests\Hearing;

/**
 * A recording as other kits would sound in its place: off its speed by up to five semitones, equalised, compressed and driven by chance. Kinds
 * of hits learned from such copies as well are told better on kits that were never met.
 */
final class Varied
{
    private const RATE = 44100;
    /** Copies of each recording. */
    public const COPIES = 5;

    /** @param string $truth path of the recording's .json file, of a group and a number */
    public static function copy(string $truth, int $copy): void
    {
        mt_srand(crc32(basename($truth)) + $copy);
        /** @var array{file: string, onsets: list<array{float, list<string>}>, bpm?: float} $known */
        $known = json_decode((string) file_get_contents($truth), true, 8, \JSON_THROW_ON_ERROR);
        $to = \dirname($truth).'/varied'.$copy.'-'.basename($truth, '.json').'.wav';
        $speed = Chance::often(75) ? 2.0 ** Chance::between(-0.4, 0.4) : 1.0;
        exec(\sprintf('ffmpeg -v error -y -i %s -af %s -c:a pcm_f32le %s 2>&1', escapeshellarg($known['file']), escapeshellarg(implode(',', self::filters($speed))), escapeshellarg($to)), $said, $status);
        0 === $status || throw new \RuntimeException('ffmpeg: '.implode("\n", $said));
        $known['onsets'] = array_map(static fn (array $onset): array => [$onset[0] / $speed, $onset[1]], $known['onsets']);
        $known['bpm'] = ($known['bpm'] ?? 0.0) * $speed;
        file_put_contents(substr($to, 0, -3).'json', json_encode(['file' => $to] + $known, \JSON_THROW_ON_ERROR));
    }

    /** @return list<string> for ffmpeg */
    private static function filters(float $speed): array
    {
        $filters = [\sprintf('asetrate=%.3f,aresample=%d', self::RATE * $speed, self::RATE)];
        for ($i = 0; $i < 4; ++$i) {
            if (Chance::often(70)) {
                $filters[] = \sprintf('equalizer=f=%.1f:t=o:w=%.2f:g=%.1f', 45.0 * 2.0 ** Chance::between(0.0, 8.2), Chance::between(0.5, 2.2), Chance::between(-10.0, 10.0));
            }
        }
        if (Chance::often(50)) {
            $filters[] = \sprintf('treble=f=%d:g=%.1f', mt_rand(2500, 7000), Chance::between(-9.0, 9.0));
        }
        if (Chance::often(50)) {
            $filters[] = \sprintf('bass=f=%d:g=%.1f', mt_rand(70, 250), Chance::between(-9.0, 9.0));
        }
        if (Chance::often(40)) {
            $filters[] = \sprintf('acompressor=threshold=%.3f:ratio=%.1f:attack=%.1f:release=%d:makeup=1', 10.0 ** (Chance::between(-30.0, -8.0) / 20.0), Chance::between(2.0, 8.0), Chance::between(0.3, 30.0), mt_rand(40, 250));
        }
        if (Chance::often(40)) {
            $filters[] = \sprintf('volume=%.1fdB,asoftclip=type=tanh', Chance::between(0.0, 12.0));
        }

        return [...$filters, 'volume=-6dB'];
    }
}
