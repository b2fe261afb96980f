<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Zone;

/** What of their recordings the sounds of pads and instruments read, tuned. */
final class Stretches
{
    /** @var array<string, array{string, int, int}> by sound and pitch: a pattern strikes each of them often */
    private array $known = [];

    public function __construct(private readonly Beat $beat, private readonly PadSounds $sounds)
    {
    }

    /** @return array{string, int, int} the sound to be read, its first frame and its frames, to its end */
    public function played(Layer $layer, int $tuneCents): array
    {
        $name = implode(' ', [$layer->sample, $layer->start, $layer->end, $tuneCents, (int) $layer->reversed]);
        if (!isset($this->known[$name])) {
            [$sound, $start, $end] = $this->beat->stretchOf($layer);
            $this->known[$name] = $this->stretchOf($sound, $start, $end, $tuneCents);
        }

        return $this->known[$name];
    }

    /** @return array{string, int, int} */
    private function stretchOf(string $sound, int $start, int $end, int $tuneCents): array
    {
        $sample = $this->sounds->playable($sound, $start);
        $stretch = $this->sounds->stretch($sample, $tuneCents);
        $from = (int) round($start * $stretch);

        return [$sample, $from, max(1, (int) round($end * $stretch) - $from)];
    }

    /**
     * What is read for a note and by how much it is tuned: where all notes are to be as long, a sound that was moved in
     * pitch; the recording, tuned, stands for it until it is there.
     *
     * @return array{string, int}
     */
    public function pitched(Keys $keys, Zone $zone, int $cents): array
    {
        if ($keys->even && 0 !== $cents && !$zone->sound->reversed) {
            $sound = $this->beat->pitched($zone->sound->sample, $cents);
            if ($this->sounds->playable($sound, $zone->sound->start) === $sound) {
                return [$sound, 0];
            }
        }

        return [$this->beat->sound($zone->sound->sample), $cents];
    }

    /** The stretch that goes round while a note is held, in frames from where its voice is at full level. */
    public function round(?int $loopStart, ?int $loopEnd, string $sample, int $cents, int $from): ?Round
    {
        if (null === $loopStart || null === $loopEnd) {
            return null;
        }
        $stretch = $this->sounds->stretch($sample, $cents);
        $start = max(0, (int) round($loopStart * $stretch) - $from);

        return new Round($start, max($start + 2, (int) round($loopEnd * $stretch) - $from));
    }

    /** @return array{string, int, int} as played() */
    public function ofZone(Layer $layer, string $sound, int $cents): array
    {
        $name = implode(' ', [$sound, $layer->start, $layer->end, $cents, (int) $layer->reversed]);
        if (!isset($this->known[$name])) {
            [$whole, $start, $end] = $layer->reversed ? $this->beat->stretchOf($layer) : [$sound, $layer->start, $layer->end];
            $this->known[$name] = $this->stretchOf($whole, $start, $end, $cents);
        }

        return $this->known[$name];
    }
}
