<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;

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
        try {
            return $beat->withMixer($beat->snapshot($this->id)->onto($beat->mixer));
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }
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
