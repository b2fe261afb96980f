<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;

/** The mix becomes as one that was kept. */
final readonly class RecallMix implements Change
{
    private function __construct(private string $id)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('id'));
    }

    public function apply(Beat $beat): Beat
    {
        return $beat->withMixer($beat->snapshot($this->id)->onto($beat->mixer));
    }

    public function label(Beat $beat): string
    {
        return 'Mix as in '.$beat->snapshot($this->id)->name;
    }

    public function touches(): array
    {
        return ['mixer'];
    }
}
