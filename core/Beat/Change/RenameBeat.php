<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;

final readonly class RenameBeat implements Change
{
    private function __construct(private string $name)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->text('name'));
    }

    public function apply(Beat $beat): Beat
    {
        return $beat->with(['name' => $this->name]);
    }

    public function label(Beat $beat): string
    {
        return 'Name of the beat';
    }

    public function touches(): array
    {
        return ['name'];
    }
}
