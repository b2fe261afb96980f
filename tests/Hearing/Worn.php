<?php

namespace Pestle\Tests\Hearing;

use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Synth\Room;
use Pestle\Core\Synth\Tone;

/**
 * A recording as it comes from a worn record, a low-rate copy or a room: off its speed, saturated, with crackle, hum and
 * hiss, dull, and through a lossy copy. Each by chance, so that most copies have suffered from several.
 */
final class Worn
{
    private const RATE = 44100;

    /**
     * A worn copy beside a recording, with its truth.
     *
     * @param string $truth path of the recording's .json file, of a group and a number
     */
    public static function copy(string $truth, int $seed): void
    {
        mt_srand(7919 * $seed + 13);
        /** @var array<string, mixed> $known */
        $known = json_decode((string) file_get_contents($truth), true, 8, \JSON_THROW_ON_ERROR);
        $from = substr($truth, 0, -4).'wav';
        $to = \dirname($from).'/worn-'.basename($from);
        $speed = Chance::often(70) ? 1.0 + (Chance::often(50) ? 1 : -1) * Chance::between(0.01, 0.028) : 1.0;
        self::ffmpeg($from, $to.'.1.wav', 1.0 === $speed ? 'anull' : \sprintf('asetrate=%.4f,aresample=%d', self::RATE * $speed, self::RATE));
        $file = SoundFile::open($to.'.1.wav');
        $block = $file->read(0, $file->frames());
        $seconds = $file->frames() / self::RATE;
        $tone = new Tone(self::RATE);
        $channels = [$block->left, $block->right];
        if (Chance::often(40)) {
            $channels = self::inRoom($channels, Chance::between(0.2, 0.9), Chance::between(0.08, 0.35));
        }
        $drive = Chance::often(50) ? Chance::between(0.8, 3.0) : 0.0;
        $hum = Chance::often(40) ? 10 ** (Chance::between(-52, -34) / 20) : 0.0;
        $humHz = Chance::often(50) ? 50.0 : 60.0;
        $hiss = Chance::often(60) ? 10 ** (Chance::between(-62, -40) / 20) : 0.0;
        $crackle = Chance::often(60) ? Chance::between(4, 40) : 0.0;
        $noise = Tone::mixed([[$tone->band($seconds, 200, 12000, mt_rand(1, 99999)), $hiss * 2.0], [$tone->sine($seconds, $humHz), $hum], [$tone->sine($seconds, 2 * $humHz, 1.0), 0.6 * $hum], [$tone->sine($seconds, 3 * $humHz, 2.0), 0.4 * $hum], [self::crackle($seconds, $crackle), 1.0]]);
        $peak = max(1e-6, $block->peak());
        foreach ($channels as $c => $signal) {
            foreach ($signal as $i => $x) {
                $x /= $peak;
                $channels[$c][$i] = 0.7 * (($drive > 0.0 ? tanh($drive * $x) / tanh($drive) : $x) + ($noise[$i] ?? 0.0));
            }
        }
        $writer = new WavWriter($to.'.2.wav', self::RATE, SampleFormat::Int16);
        $writer->write(new StereoBlock(...$channels));
        $writer->close();
        $dull = Chance::often(65) ? \sprintf('lowpass=f=%d,lowpass=f=%d', $hz = mt_rand(7000, 9000), $hz) : 'anull';
        if (Chance::often(50)) {
            self::ffmpeg($to.'.2.wav', $to.'.mp3', $dull, '-c:a libmp3lame -b:a 64k');
            self::ffmpeg($to.'.mp3', $to, 'anull', '-c:a pcm_s16le');
            unlink($to.'.mp3');
        } else {
            self::ffmpeg($to.'.2.wav', $to, $dull, '-c:a pcm_s16le');
        }
        array_map(unlink(...), [$to.'.1.wav', $to.'.2.wav']);
        file_put_contents(substr($to, 0, -3).'json', json_encode(self::moved($known, $speed, $to), \JSON_THROW_ON_ERROR));
    }

    /**
     * @param array<string, mixed> $known
     *
     * @return array<string, mixed>
     */
    private static function moved(array $known, float $speed, string $file): array
    {
        foreach (['bpm', 'slowest', 'fastest'] as $tempo) {
            if (is_numeric($known[$tempo] ?? null)) {
                $known[$tempo] *= $speed;
            }
        }
        foreach (['onsets', 'beats', 'downbeats'] as $times) {
            if (\is_array($known[$times] ?? null)) {
                $known[$times] = array_map(static fn (mixed $t): mixed => \is_array($t) && is_numeric($t[0]) ? [$t[0] / $speed, $t[1]] : (is_numeric($t) ? $t / $speed : $t), $known[$times]);
            }
        }

        return ['file' => $file, 'cents' => 1200 * log($speed, 2)] + $known;
    }

    /**
     * @param list<list<float>> $channels
     *
     * @return list<list<float>>
     */
    public static function inRoom(array $channels, float $decay, float $level): array
    {
        $room = (new Room(self::RATE, $decay))->of(Tone::mixed([[$channels[0], 0.5], [$channels[1], 0.5]]));

        return [Tone::mixed([[$channels[0], 1.0], [$room[0], $level]]), Tone::mixed([[$channels[1], 1.0], [$room[1], $level]])];
    }

    /** @return list<float> clicks of all sizes, small ones the most, so many a second */
    public static function crackle(float $seconds, float $often): array
    {
        $out = array_fill(0, (int) ($seconds * self::RATE), 0.0);
        for ($k = 0; $k < $seconds * $often; ++$k) {
            $at = mt_rand(0, max(0, \count($out) - 12));
            $level = 0.004 / max(0.02, mt_rand(1, 1000) / 1000);
            for ($i = 0, $long = mt_rand(1, 8); $i < $long; ++$i) {
                $out[$at + $i] += $level * (mt_rand(-1000, 1000) / 1000) * (1.0 - $i / $long);
            }
        }

        return array_values($out);
    }

    public static function ffmpeg(string $from, string $to, string $filter, string $codec = '-c:a pcm_f32le'): void
    {
        exec(\sprintf('ffmpeg -v error -y -i %s -af %s %s %s 2>&1', escapeshellarg($from), escapeshellarg($filter), $codec, escapeshellarg($to)), $said, $status);
        0 === $status || throw new \RuntimeException('ffmpeg: '.implode("\n", $said));
    }
}
