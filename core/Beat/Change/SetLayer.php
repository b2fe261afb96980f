<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Pad;

/** Changes one of a pad's sounds: its name, its stretch and loop, its settings; or its place among them. */
final readonly class SetLayer implements Change
{
    /** Besides its parameters. */
    private const OTHERS = ['name' => 'Name', 'start' => 'Start', 'end' => 'End', 'loopStart' => 'Loop', 'loopEnd' => 'Loop', 'place' => 'Place'];

    /** @param non-empty-array<string, mixed> $settings */
    private function __construct(private string $pad, private int $layer, private array $settings)
    {
    }

    public static function from(Fields $fields): self
    {
        $settings = $fields->settings(Layer::parameters());
        foreach (array_intersect($fields->keys(), array_keys(self::OTHERS)) as $field) {
            $settings[$field] = match ($field) {
                'name' => $fields->text('name'),
                'place' => $fields->whole('place', 0, Pad::MAX_LAYERS - 1),
                'loopStart', 'loopEnd' => $fields->has($field) ? $fields->frame($field) : null,
                default => $fields->frame($field),
            };
        }
        if ([] === $settings) {
            throw new InvalidChange('Nothing to change was named.');
        }

        return new self($fields->id('pad'), $fields->has('layer') ? $fields->whole('layer', 0, Pad::MAX_LAYERS - 1) : 0, $settings);
    }

    public function apply(Beat $beat): Beat
    {
        $pad = $beat->pad($this->pad);
        $layers = $pad->layers;
        $layer = $layers[$this->layer] ?? throw new InvalidChange(\sprintf('%s has no sound %d any more.', $pad->name, $this->layer + 1));
        $settings = array_diff_key($this->settings, ['place' => 1]);
        if (!\array_key_exists('loopStart', $settings) && (isset($settings['start']) || isset($settings['end']))) {
            // Another stretch: what was to go round within it stays within it.
            [$start, $end] = [$settings['start'] ?? $layer->start, $settings['end'] ?? $layer->end];
            $layer = $layer->moved(\is_int($start) ? $start : 0, \is_int($end) ? $end : 0, static fn (int $frame): int => $frame);
        }
        $layers[$this->layer] = $layer->with($settings);
        if (\is_int($this->settings['place'] ?? null)) {
            [$moved] = array_splice($layers, $this->layer, 1);
            array_splice($layers, $this->settings['place'], 0, [$moved]);
        }

        return $beat->withKit($beat->kit->withPad($pad->with(['layers' => array_values($layers)])));
    }

    public function label(Beat $beat): string
    {
        $field = array_key_first($this->settings);
        $pad = $beat->pad($this->pad);
        $name = \count($pad->layers) > 1 ? $pad->layers[$this->layer]->name ?? $pad->name : $pad->name;

        return (self::OTHERS[$field] ?? Layer::parameters()[$field]->name).' of '.$name;
    }

    public function touches(): array
    {
        return ['kit/'.$this->pad.'/layers'];
    }
}
