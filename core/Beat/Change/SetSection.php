<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Theory\Meter;

/** Sets a section's name, a length of its own in bars (0 for as long as its patterns), or a meter of its own. */
final readonly class SetSection implements Change
{
    private const FIELDS = ['name' => 'Name', 'bars' => 'Length', 'meter' => 'Meter'];

    /** @param non-empty-array<string, mixed> $settings */
    private function __construct(private string $section, private array $settings)
    {
    }

    public static function from(Fields $fields): self
    {
        $settings = [];
        foreach (array_intersect($fields->keys(), array_keys(self::FIELDS)) as $field) {
            $settings[$field] = match ($field) {
                'name' => $fields->text('name'),
                'bars' => $fields->has('bars') ? $fields->whole('bars', 0, Pattern::MAX_BARS) : 0,
                default => $fields->has('meter') ? $fields->meter('meter') : null,
            };
        }
        if ([] === $settings) {
            throw new InvalidChange('Nothing to change was named.');
        }

        return new self($fields->id('section'), $settings);
    }

    public function apply(Beat $beat): Beat
    {
        $section = $beat->section($this->section)->with(array_diff_key($this->settings, ['bars' => true]));
        $bars = $this->settings['bars'] ?? null;

        return $beat->withSection(\is_int($bars) ? $section->with(['ticks' => 0 === $bars ? null : $bars * ($section->meter ?? $beat->meter)->barTicks()]) : $section);
    }

    public function label(Beat $beat): string
    {
        $field = array_key_first($this->settings);

        return self::FIELDS[$field].' of '.$beat->section($this->section)->name;
    }

    public function touches(): array
    {
        return ['section/'.$this->section];
    }
}
