<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\SliceFields;
use Pestle\Core\Sample\Slices;

/** Sets where a sample is cut. */
final readonly class SetSlices implements Change
{
    private function __construct(private string $sample, private Slices $slices)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->hash('sample'), SliceFields::read($fields));
    }

    public function apply(Beat $beat): Beat
    {
        $before = $beat->slices[$this->sample] ?? new Slices([]);

        return $beat->with(['slices' => array_replace($beat->slices, [$this->sample => $this->slices->keeping($before)])]);
    }

    public function label(Beat $beat): string
    {
        return match ($this->slices->how) {
            'hits' => 'Slice at hits',
            'grid' => 'Slice on the grid',
            'equal' => 'Slice in equal parts',
            'file' => 'Slice at the file\'s markers',
            default => 'Slice markers',
        };
    }

    public function touches(): array
    {
        return ['slices/'.$this->sample];
    }
}
