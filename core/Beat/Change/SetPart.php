<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\SongCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;

/** Sets a part's name or colour, or moves it before another one. */
final readonly class SetPart implements Change
{
    /** @param array<string, string|null> $settings */
    private function __construct(private string $part, private array $settings, private ?string $before)
    {
    }

    public static function from(Fields $fields): self
    {
        $settings = [];
        foreach ($fields->keys() as $field) {
            if ('name' === $field) {
                $settings['name'] = $fields->text('name');
            } elseif ('colour' === $field) {
                $settings['colour'] = $fields->has('colour') ? SongCodec::colour($fields) : null;
            } elseif ('shelf' === $field) {
                $settings['shelf'] = SongCodec::shelf($fields);
            }
        }
        $before = $fields->has('before') ? $fields->id('before') : null;
        if ([] === $settings && null === $before) {
            throw new InvalidChange('Nothing to change was named.');
        }

        return new self($fields->id('part'), $settings, $before);
    }

    public function apply(Beat $beat): Beat
    {
        $part = $beat->part($this->part)->with($this->settings);
        if (null === $this->before) {
            return $beat->withPart($part);
        }
        $beat->part($this->before);
        $parts = [];
        foreach ($beat->parts as $id => $other) {
            if ($id === $this->before) {
                $parts[$part->id] = $part;
            }
            if ($id !== $part->id) {
                $parts[$id] = $other;
            }
        }

        return $beat->with(['parts' => $parts + [$part->id => $part]]);
    }

    public function label(Beat $beat): string
    {
        $what = match (true) {
            isset($this->settings['name']) => 'Name of ',
            isset($this->settings['shelf']) => 'Saved copy of ',
            default => null === $this->before ? 'Colour of ' : 'Move ',
        };

        return $what.$beat->part($this->part)->name;
    }

    public function touches(): array
    {
        return null === $this->before ? ['part/'.$this->part] : ['part'];
    }
}
