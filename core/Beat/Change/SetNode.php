<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\SongCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Mix\NodeKind;

/** Sets a channel's, group's or return's name, colour, or the group it goes to. */
final readonly class SetNode implements Change
{
    private const LABELS = ['name' => 'Name', 'colour' => 'Colour', 'output' => 'Group'];

    /** @param non-empty-array<string, string|null> $settings */
    private function __construct(private string $node, private array $settings)
    {
    }

    public static function from(Fields $fields): self
    {
        $settings = [];
        foreach (array_intersect($fields->keys(), array_keys(self::LABELS)) as $field) {
            $settings[$field] = match (true) {
                'name' === $field => $fields->text('name'),
                !$fields->has($field) => null,
                'colour' === $field => SongCodec::colour($fields),
                default => $fields->id('output'),
            };
        }
        if ([] === $settings) {
            throw new InvalidChange('Nothing to change was named.');
        }

        return new self($fields->id('node'), $settings);
    }

    public function apply(Beat $beat): Beat
    {
        $output = $this->settings['output'] ?? null;
        if (null !== $output && NodeKind::Group !== ($beat->mixer->nodes[$output] ?? null)?->kind) {
            throw InvalidChange::field('output', 'must be a group of this beat.');
        }

        return $beat->withMixer($beat->mixer->with($beat->channel($this->node)->with($this->settings)));
    }

    public function label(Beat $beat): string
    {
        return self::LABELS[array_key_first($this->settings)].' of '.$beat->channel($this->node)->name;
    }

    public function touches(): array
    {
        return array_map(fn (string $field): string => 'mixer/'.$this->node.'/'.$field, array_keys($this->settings));
    }
}
