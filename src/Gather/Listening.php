<?php

namespace Pestle\App\Gather;

use Pestle\Core\Analysis\Heard;
use Pestle\Core\Analysis\Hit;
use Pestle\Core\Audio\Fingerprint;
use Pestle\Core\Audio\PcmFile;
use Pestle\Core\Sample\Material;

/** What was heard in a sample, as it is kept with it. Times are frames of the source. */
final class Listening
{
    /** What was listened to before this is listened to again. */
    public const VERSION = 5;

    /** @return array<string, mixed> */
    public static function to(PcmFile $source): array
    {
        $heard = Heard::in($source);
        $frame = static fn (float $seconds): int => (int) round($seconds * $source->sampleRate());

        $facts = [
            'version' => self::VERSION,
            'sound' => Fingerprint::of($source),
            'kind' => $heard->kind,
            'role' => $heard->role,
            'roleSure' => round($heard->roleSure, 2),
            'material' => Material::byHighShare($heard->highShare)->value,
            'lufs' => round($heard->loudness->integratedLufs, 1),
            'truePeak' => round($heard->loudness->truePeakDb, 1),
            'bpm' => $heard->tempo?->bpm,
            'bpmSure' => round($heard->tempo->confidence ?? 0.0, 2),
            'otherBpm' => array_map(static fn (array $a): float => $a[0], $heard->tempo->alternatives ?? []),
            'bars' => $heard->tempo?->bars,
            'meter' => $heard->tempo?->meter->meter->name(),
            'meterSure' => round($heard->tempo->meter->confidence ?? 0.0, 2),
            'beats' => array_map($frame, $heard->beats->times ?? []),
            'downbeat' => $frame($heard->beats->downbeats[0] ?? 0.0),
            'steady' => $heard->beats->steady ?? true,
            'key' => $heard->key?->key->name(),
            'keySure' => round($heard->key->confidence ?? 0.0, 2),
            'tuning' => round($heard->chroma->cents, 1),
            'notes' => $heard->chroma->notes(),
            'note' => null === $heard->pitch ? null : round($heard->pitch->note, 3),
            'noteSure' => round($heard->pitch->confidence ?? 0.0, 2),
            'hits' => array_map(static fn (Hit $hit): array => [$hit->frame, $hit->kind->value, round($hit->confidence, 2), round($hit->level, 3)], $heard->hits),
        ];
        // JSON has no number that is none, and none without an end.
        array_walk_recursive($facts, static function (mixed &$fact): void {
            $fact = \is_float($fact) && !is_finite($fact) ? 0.0 : $fact;
        });

        return $facts;
    }
}
