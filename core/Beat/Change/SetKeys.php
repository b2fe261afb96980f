<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Zone;

/** Sets how an instrument plays; of one of its recorded notes the sample, its stretch and loop, its root and its keys. */
final readonly class SetKeys implements Change
{
    private const OF_SOUND = ['sample' => 'Sound', 'start' => 'Start', 'end' => 'End', 'loopStart' => 'Loop', 'loopEnd' => 'Loop'];

    /**
     * @param array<string, mixed> $settings of the instrument
     * @param array<string, mixed> $zone     of the recorded note
     * @param array<string, mixed> $sound    of its sound
     */
    private function __construct(private string $part, private int $place, private array $settings, private array $zone, private array $sound)
    {
    }

    public static function from(Fields $fields): self
    {
        $settings = $fields->settings(Keys::parameters());
        $zone = $fields->settings(Zone::parameters());
        $sound = [];
        foreach (array_intersect($fields->keys(), array_keys(self::OF_SOUND)) as $field) {
            $sound[$field] = match ($field) {
                'sample' => $fields->hash('sample'),
                'loopStart', 'loopEnd' => $fields->has($field) ? $fields->frame($field) : null,
                default => $fields->frame($field),
            };
        }
        if ([] === $settings && [] === $zone && [] === $sound) {
            throw new InvalidChange('Nothing to change was named.');
        }

        return new self($fields->id('part'), $fields->has('zone') ? $fields->whole('zone', 0, Keys::MAX_ZONES - 1) : 0, $settings, $zone, $sound);
    }

    public function apply(Beat $beat): Beat
    {
        $part = $beat->part($this->part);
        $keys = $part->keys ?? throw new InvalidChange('This part is a kit: set its pads.');
        if ([] !== $this->zone || [] !== $this->sound) {
            $zone = $keys->zones[$this->place] ?? throw new InvalidChange(\sprintf('%s has no recorded note %d any more.', $part->name, $this->place + 1));
            $keys = $keys->withZone($this->place, $zone->with([...$this->zone, 'sound' => $zone->sound->with($this->sound)]));
        }

        return $beat->withPart($part->with(['keys' => $keys->with($this->settings)]));
    }

    public function label(Beat $beat): string
    {
        $field = (string) array_key_first([...$this->settings, ...$this->zone, ...$this->sound]);

        return (self::OF_SOUND[$field] ?? (Keys::parameters()[$field] ?? Zone::parameters()[$field])->name).' of '.$beat->part($this->part)->name;
    }

    public function touches(): array
    {
        return ['part/'.$this->part];
    }
}
