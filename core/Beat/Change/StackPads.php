<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\KitCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;

/** Binds pads so that striking one of them sounds all, also across kits; with notes of instruments among them, those sound along. */
final readonly class StackPads implements Change
{
    /** @param list<string> $pads */
    private function __construct(private array $pads, private bool $bound)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self(KitCodec::others($fields, 'pads'), !$fields->has('bound') || $fields->flag('bound'));
    }

    public function apply(Beat $beat): Beat
    {
        if (\count($this->pads) < 2) {
            throw InvalidChange::field('pads', 'must name at least two.');
        }
        foreach ($this->pads as $id) {
            $pad = $beat->kit->pad($id);
            if (null !== $pad) {
                $others = array_values(array_diff($this->pads, [$id]));
                $along = $this->bound ? array_values(array_unique([...$pad->along, ...$others])) : array_values(array_diff($pad->along, $others));
                $beat = $beat->withKit($beat->kit->withPad($pad->with(['along' => $along])));
            }
        }

        return $beat;
    }

    public function label(Beat $beat): string
    {
        return \sprintf($this->bound ? '%d pads sound together' : '%d pads sound on their own', \count($this->pads));
    }

    public function touches(): array
    {
        return ['kit'];
    }
}
