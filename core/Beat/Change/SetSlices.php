<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Sample\Slices;

/** Sets where a sample is cut. */
final readonly class SetSlices implements Change
{
    private function __construct(private string $sample, private Slices $slices)
    {
    }

    public static function from(Fields $fields): self
    {
        $markers = array_values(array_unique($fields->wholes('markers', Slices::MAX, \PHP_INT_MAX)));
        sort($markers);

        return new self($fields->hash('sample'), new Slices($markers, $fields->has('how') ? $fields->text('how', 12) : 'hand'));
    }

    public function apply(Beat $beat): Beat
    {
        return $beat->with(['slices' => [...$beat->slices, $this->sample => $this->slices]]);
    }

    public function label(Beat $beat): string
    {
        return match ($this->slices->how) {
            'hits' => 'Slice at hits',
            'equal' => 'Slice in equal parts',
            default => 'Slice markers',
        };
    }

    public function touches(): array
    {
        return ['slices/'.$this->sample];
    }
}
