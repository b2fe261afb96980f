<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\KitCodec;
use Pestle\Core\Beat\Codec\SongCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Pad;

/** Changes one or more settings of a filled pad. */
final readonly class SetPad implements Change
{
    /** Besides its parameters. */
    private const OTHERS = ['name' => 'Name', 'channel' => 'Channel', 'colour' => 'Colour', 'along' => 'What sounds along', 'silences' => 'What it silences'];

    /** @param non-empty-array<string, mixed> $settings */
    private function __construct(private string $pad, private array $settings)
    {
    }

    public static function from(Fields $fields): self
    {
        $settings = $fields->settings(Pad::parameters());
        foreach (array_intersect($fields->keys(), array_keys(self::OTHERS)) as $field) {
            $settings[$field] = match ($field) {
                'name' => $fields->text('name'),
                'channel' => $fields->id('channel'),
                'colour' => $fields->has('colour') ? SongCodec::colour($fields) : null,
                default => KitCodec::others($fields, $field),
            };
        }
        if ([] === $settings) {
            throw new InvalidChange('Nothing to change was named.');
        }

        return new self($fields->id('pad'), $settings);
    }

    public function apply(Beat $beat): Beat
    {
        $pad = $beat->pad($this->pad);
        if (isset($this->settings['channel'])) {
            $beat->channel(\is_string($this->settings['channel']) ? $this->settings['channel'] : '');
        }

        return $beat->withKit($beat->kit->withPad($pad->with($this->settings)))->withoutUnusedChannels();
    }

    public function label(Beat $beat): string
    {
        $field = array_key_first($this->settings);

        return (self::OTHERS[$field] ?? Pad::parameters()[$field]->name).' of '.$beat->pad($this->pad)->name;
    }

    public function touches(): array
    {
        return ['kit/'.$this->pad];
    }
}
