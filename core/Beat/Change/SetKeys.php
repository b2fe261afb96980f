<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Pattern\Note;

/** Sets how an instrument plays its recording; with another sample, what it plays. */
final readonly class SetKeys implements Change
{
    private const LABELS = [
        'sample' => 'Sound of', 'start' => 'Start of', 'end' => 'End of', 'rootCents' => 'Root of', 'single' => 'One note at a time of', 'held' => 'Length of notes of',
        'releaseMs' => 'Release of', 'glideMs' => 'Glide of', 'loopStart' => 'Loop of', 'loopEnd' => 'Loop of', 'levelDb' => 'Level of', 'low' => 'Lowest note of', 'high' => 'Highest note of',
    ];

    /** @param non-empty-array<string, mixed> $settings */
    private function __construct(private string $part, private array $settings)
    {
    }

    public static function from(Fields $fields): self
    {
        $settings = [];
        foreach (array_intersect($fields->keys(), array_keys(self::LABELS)) as $field) {
            $settings[$field] = match ($field) {
                'sample' => $fields->hash('sample'),
                'rootCents' => $fields->whole('rootCents', 0, 100 * Note::MAX_PITCH),
                'single', 'held' => $fields->flag($field),
                'releaseMs' => $fields->whole('releaseMs', 0, Keys::MAX_RELEASE_MS),
                'glideMs' => $fields->whole('glideMs', 0, Keys::MAX_GLIDE_MS),
                'levelDb' => $fields->number('levelDb', Keys::MIN_LEVEL_DB, Keys::MAX_LEVEL_DB),
                'low', 'high' => $fields->whole($field, 0, Note::MAX_PITCH),
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
        return self::LABELS[array_key_first($this->settings)].' '.$beat->part($this->part)->name;
    }

    public function touches(): array
    {
        return ['part/'.$this->part];
    }
}
