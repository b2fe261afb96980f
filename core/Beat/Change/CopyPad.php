<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;

/** A pad's sounds and settings once more at another place, of this kit or another one; what is there goes, its hits stay. */
final readonly class CopyPad implements Change
{
    private function __construct(private string $pad, private string $to)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('pad'), $fields->id('to'));
    }

    public function apply(Beat $beat): Beat
    {
        $pad = $beat->pad($this->pad);
        if (!$beat->kit->hasPlace($this->to) || $this->to === $this->pad) {
            throw InvalidChange::field('to', 'must be another place in one of the banks.');
        }

        return $beat->withKit($beat->kit->withPad($pad->with(['id' => $this->to])))->withoutUnusedChannels();
    }

    public function label(Beat $beat): string
    {
        return 'Copy of '.$beat->pad($this->pad)->name;
    }

    public function touches(): array
    {
        return ['kit/'.$this->pad, 'kit/'.$this->to, 'mixer'];
    }
}
