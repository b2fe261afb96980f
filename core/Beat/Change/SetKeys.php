<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Keys;

/** Sets how an instrument plays its recording; with another sample, what it plays. */
final readonly class SetKeys implements Change
{
    /** Besides its parameters. */
    private const OTHERS = ['sample' => 'Sound', 'start' => 'Start', 'end' => 'End', 'loopStart' => 'Loop', 'loopEnd' => 'Loop'];

    /** @param non-empty-array<string, mixed> $settings */
    private function __construct(private string $part, private array $settings)
    {
    }

    public static function from(Fields $fields): self
    {
        $settings = $fields->settings(Keys::parameters());
        foreach (array_intersect($fields->keys(), array_keys(self::OTHERS)) as $field) {
            $settings[$field] = match ($field) {
                'sample' => $fields->hash('sample'),
                'loopStart', 'loopEnd' => $fields->has($field) ? $fields->frame($field) : null,
                default => $fields->frame($field),
            };
        }
        if ([] === $settings) {
            throw new InvalidChange('Nothing to change was named.');
        }

        return new self($fields->id('part'), $settings);
    }

    public function apply(Beat $beat): Beat
    {
        $part = $beat->part($this->part);
        $keys = $part->keys ?? throw new InvalidChange('This part is a kit: set its pads.');

        return $beat->withPart($part->with(['keys' => $keys->with($this->settings)]));
    }

    public function label(Beat $beat): string
    {
        $field = array_key_first($this->settings);

        return (self::OTHERS[$field] ?? Keys::parameters()[$field]->name).' of '.$beat->part($this->part)->name;
    }

    public function touches(): array
    {
        return ['part/'.$this->part];
    }
}
