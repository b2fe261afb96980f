<?php

namespace Pestle\App\Sound;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Mix\CompressorSettings;
use Pestle\Core\Mix\Master;
use Pestle\Core\Mix\Node;
use Pestle\Core\Song\Part;

/** Where a struck pad's sound is found, and at which strengths it has to be fetched. */
final readonly class PadSound
{
    /** Strengths at which a compressor is listened to; between two of them only a fader moves. Those of the keyboard are among them. */
    private const GRADES = [20, 40, 58, 76, 92, 108, 127];

    private const UNHEARD_DB = 3.0;

    /** Changes when the pad would sound different on its own. */
    public static function key(Beat $beat, Pad $pad): string
    {
        return substr(hash('sha256', serialize([$pad, array_map(static fn (Pad $p): string => $beat->sound($p->sample), $pad->sounds()), $beat->mixer->only($pad->channel)])), 0, 16);
    }

    /** Changes when a note of an instrument would sound different. */
    public static function keysKey(Beat $beat, Part $part): string
    {
        return substr(hash('sha256', serialize([$part->keys, $beat->sound($part->keys->sample ?? ''), $beat->mixer->only($part->keys->channel ?? '')])), 0, 16);
    }

    /**
     * The highest strength of each stretch that has a sound of its own: where another layer answers, and where a
     * compressor it meets, or the limiter, makes something else of it.
     *
     * @return list<int> ascending, the last is 127
     */
    public static function strengths(Beat $beat, Pad $pad): array
    {
        $strengths = $pad->strengths();
        $mixer = $beat->mixer->only($pad->channel);
        $lines = [...array_values($mixer->nodes), $mixer->master];
        $compressed = [] !== array_filter($lines, static fn (Node|Master $line): bool => $line->has(CompressorSettings::KIND));
        // Samples reach full scale; what the limiter takes beyond that is heard when it is more than a little.
        $loudestDb = $pad->levelDb + array_sum(array_map(static fn (Node|Master $line): float => $line->gainDb, $lines));
        if ($compressed || $loudestDb > $mixer->master->ceilingDb + self::UNHEARD_DB) {
            $strengths = array_values(array_unique([...$strengths, ...self::GRADES]));
            sort($strengths);
        }

        return $strengths;
    }
}
