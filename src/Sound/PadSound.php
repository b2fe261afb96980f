<?php

namespace Pestle\App\Sound;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Strikes;
use Pestle\Core\Kit\Answer;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Song\Part;

/** Where a struck pad's sound is fetched, and how it behaves while it is played, as pages are told. */
final readonly class PadSound
{
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
                $along[] = ['note' => (int) $pitch, 'url' => \sprintf('/beats/%d/keys/%s/%d/%s', $beatId, $source, (int) $pitch, (new Strikes($beat))->printOfKeys($part)), ...self::notes($beat, $part)];
            }
        }
        $amp = $pad->treatment->amp;

        return [
            'id' => $pad->id,
            'url' => \sprintf('/beats/%d/pads/%s/%s', $beatId, $pad->id, (new Strikes($beat))->printOfPad($pad)),
            'strengths' => (new Strikes($beat))->onPad($pad),
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
            'strengths' => (new Strikes($beat))->onKeys($part),
            'turns' => $keys->answer->chooses() ? max(1, \count($keys->zones)) : 1,
            'chance' => Answer::Chance === $keys->answer,
            'fresh' => Answer::Fresh === $keys->answer,
            'single' => $keys->single,
            'held' => $keys->lastsAsHeld(),
            'releaseMs' => $keys->treatment->amp->releaseMs,
            'bend' => $keys->treatment->amp->releaseBend,
            'power' => $keys->strength,
            'voices' => $keys->voices,
            'low' => $keys->low,
            'high' => $keys->high,
        ];
    }
}
