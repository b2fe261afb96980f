<?php

namespace Pestle\App\Deliver;

use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Exchange\PackedAs;
use Pestle\Core\Signal\Decibels;
use Symfony\Component\Process\Process;

/** Packs a delivered WAV with ffmpeg as FLAC, MP3 or Ogg, with what it is called and how it is played in its tags. */
final readonly class PackedCopy
{
    private const SECONDS = 1800;
    private const CODEC = [
        'flac' => ['-c:a', 'flac', '-compression_level', '8'],
        'mp3' => ['-c:a', 'libmp3lame', '-b:a', '320k', '-id3v2_version', '3'],
        'ogg' => ['-c:a', 'libvorbis', '-q:a', '8'],
    ];
    private const BLOCK = 65_536;

    /** @param int $overDb by how many whole dB all would have to be lower for it not to go over full scale when it is decoded; 0 where it does not */
    private function __construct(public string $path, public PackedAs $as, public int $overDb)
    {
    }

    /** @throws \RuntimeException when it cannot be made */
    public static function of(string $wav, PackedAs $as, Beat $beat, string $title): self
    {
        $path = substr($wav, 0, -\strlen('.wav')).'.'.$as->value;
        $tags = ['title' => $title, 'album' => $beat->name, ...PackedAs::Mp3 === $as ? ['TBPM' => (string) round($beat->tempo->bpm), 'TKEY' => self::shortKey($beat)] : ['BPM' => (string) $beat->tempo->bpm, 'KEY' => $beat->key?->name() ?? '']];
        $said = [];
        foreach (array_filter($tags) as $name => $value) {
            array_push($said, '-metadata', $name.'='.$value);
        }
        self::run(['-i', $wav, '-map_metadata', '-1', ...self::CODEC[$as->value], ...$said, $path]);

        return new self($path, $as, $as->isLossy() ? self::overDb($path) : 0);
    }

    private static function overDb(string $path): int
    {
        $decoded = $path.'.decoded.wav';
        self::run(['-i', $path, '-c:a', 'pcm_f32le', $decoded]);
        try {
            $sound = SoundFile::open($decoded);
            $peak = 1.0;
            for ($at = 0, $end = $sound->frames(); $at < $end; $at += self::BLOCK) {
                $peak = max($peak, $sound->read($at, min(self::BLOCK, $end - $at))->peak());
            }

            return (int) ceil(Decibels::fromGain($peak) - 1e-9);
        } finally {
            @unlink($decoded);
        }
    }

    /** As ID3 writes keys: "Dm", "F#". */
    private static function shortKey(Beat $beat): string
    {
        return str_replace([' minor', ' major'], ['m', ''], $beat->key?->name() ?? '');
    }

    /** @param list<string> $arguments */
    private static function run(array $arguments): void
    {
        $process = new Process(['ffmpeg', '-nostdin', '-v', 'error', '-y', '-protocol_whitelist', 'file', ...$arguments], null, ['HOME' => '/nonexistent']);
        $process->setTimeout(self::SECONDS);
        $process->run();
        if (!$process->isSuccessful()) {
            throw new \RuntimeException('ffmpeg: '.mb_substr($process->getErrorOutput(), 0, 400));
        }
    }
}
