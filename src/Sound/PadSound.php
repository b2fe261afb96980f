<?php

namespace Pestle\App\Sound;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Answer;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Lfo;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\Treatment;
use Pestle\Core\Kit\Zone;
use Pestle\Core\Mix\Master;
use Pestle\Core\Mix\Node;
use Pestle\Core\Song\Part;

/** Where a struck pad's sound is found, at which strengths it has to be fetched, and how it behaves while it is played. */
final readonly class PadSound
{
    /** Strengths at which a compressor is listened to; between two of them only a fader moves. Those of the keyboard are among them. */
    private const GRADES = [20, 40, 58, 76, 92, 108, 127];

    private const UNHEARD_DB = 3.0;

    /** Changes when the pad would sound different on its own. */
    public static function key(Beat $beat, Pad $pad): string
    {
        $pad = $beat->soundingPad($pad->id) ?? $pad;

        return substr(hash('sha256', serialize([$beat->rules, self::tempo($beat, $pad->treatment), $pad, array_map(static fn (Layer $l): string => $beat->sound($l->sample), $pad->layers), $beat->mixer->only($pad->channel)])), 0, 16);
    }

    /** The tempo, where something moves in time with it. */
    private static function tempo(Beat $beat, ?Treatment $treatment): ?float
    {
        return [] === array_filter([$treatment?->lfo1, $treatment?->lfo2], static fn (?Lfo $lfo): bool => true === $lfo?->acts() && $lfo->ticks > 0) ? null : $beat->tempo->bpm;
    }

    /** Changes when a note of an instrument would sound different. */
    public static function keysKey(Beat $beat, Part $part): string
    {
        return substr(hash('sha256', serialize([$beat->rules, self::tempo($beat, $part->keys?->treatment), $part->keys, array_map(static fn (Zone $z): string => $beat->sound($z->sound->sample), $part->keys->zones ?? []), $beat->mixer->only($part->keys->channel ?? '')])), 0, 16);
    }

    /**
     * The highest strength of each stretch that has a sound of its own: where other layers answer, and where a filter, a
     * compressor it meets, or the limiter, makes something else of it.
     *
     * @return list<int> ascending, the last is 127
     */
    public static function strengths(Beat $beat, Pad $pad): array
    {
        $pad = $beat->soundingPad($pad->id) ?? $pad;

        return self::graded($beat, $pad->strengths(), $pad->channel, $pad->levelDb, $pad->treatment);
    }

    /**
     * @param list<int> $strengths
     *
     * @return list<int>
     */
    private static function graded(Beat $beat, array $strengths, string $channel, float $levelDb, Treatment $treatment): array
    {
        $mixer = $beat->mixer->only($channel);
        $lines = [...array_values($mixer->nodes), $mixer->master];
        $compressed = [] !== array_filter($lines, static fn (Node|Master $line): bool => !$line->isLinear());
        // Samples reach full scale; what the limiter takes beyond that is heard when it is more than a little.
        $loudestDb = $levelDb + array_sum(array_map(static fn (Node|Master $line): float => $line->gainDb, $lines));
        $filter = $treatment->filter;
        $shaped = $filter->acts() && 0.0 !== $filter->strengthCents;
        if ($compressed || $shaped || $loudestDb > $mixer->master->ceilingDb + self::UNHEARD_DB) {
            $strengths = array_values(array_unique([...$strengths, ...self::GRADES]));
            sort($strengths);
        }

        return $strengths;
    }

    /**
     * All that playing a pad live takes; the same rules as when it is rendered.
     *
     * @return array<string, mixed>
     */
    public static function play(int $beatId, Beat $beat, Pad $pad, bool $others = true): array
    {
        $along = [];
        foreach ($others ? $pad->along : [] as $id) {
            [$source, $pitch] = [...explode('/', $id, 2), ''];
            $other = $beat->kit->pad($source);
            $part = $beat->parts[$source] ?? null;
            if ('' === $pitch && null !== $other) {
                $along[] = self::play($beatId, $beat, $other, false);
            } elseif (null !== $part?->keys) {
                $along[] = ['note' => (int) $pitch, 'url' => \sprintf('/beats/%d/keys/%s/%d/%s', $beatId, $source, (int) $pitch, self::keysKey($beat, $part)), ...self::notes($beat, $part)];
            }
        }
        $amp = $pad->treatment->amp;

        return [
            'id' => $pad->id,
            'url' => \sprintf('/beats/%d/pads/%s/%s', $beatId, $pad->id, self::key($beat, $pad)),
            'strengths' => self::strengths($beat, $pad),
            'power' => $pad->strength,
            'held' => 'held' === $pad->mode->value,
            'releaseMs' => $amp->releaseMs,
            'bend' => $amp->releaseBend,
            'voices' => $pad->voices,
            'group' => $pad->choke > 0 ? $pad->choke.' '.$beat->kit->partOf($pad->id) : null,
            'silences' => $pad->silences,
            'turns' => $pad->answer->chooses() ? \count($pad->layers) : 1,
            'chance' => Answer::Chance === $pad->answer,
            'fresh' => Answer::Fresh === $pad->answer,
            'along' => $along,
        ];
    }

    /** @return array<string, mixed> how notes of an instrument behave, and at which strengths they have to be fetched; nothing for a kit */
    public static function notes(Beat $beat, Part $part): array
    {
        $keys = $part->keys;

        return null === $keys ? [] : [
            'id' => $part->id,
            'part' => $part->id,
            'strengths' => self::graded($beat, $keys->strengths(), $keys->channel, $keys->levelDb, $keys->treatment),
            'turns' => $keys->answer->chooses() ? \count($keys->zones) : 1,
            'chance' => Answer::Chance === $keys->answer,
            'fresh' => Answer::Fresh === $keys->answer,
            'single' => $keys->single,
            'held' => $keys->held,
            'releaseMs' => $keys->treatment->amp->releaseMs,
            'bend' => $keys->treatment->amp->releaseBend,
            'power' => $keys->strength,
            'voices' => $keys->voices,
            'low' => $keys->low,
            'high' => $keys->high,
        ];
    }
}
