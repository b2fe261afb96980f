<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\SongCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Kit;

/** Gives pads a colour of the maker's own, or that of their roles again. */
final readonly class ColourPads implements Change
{
    /** @param list<string> $pads */
    private function __construct(private array $pads, private ?string $colour)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->ids('pads', Kit::MAX_BANKS * Bank::SIZE), $fields->has('colour') ? SongCodec::colour($fields) : null);
    }

    public function apply(Beat $beat): Beat
    {
        foreach ($this->pads as $id) {
            $beat = $beat->withKit($beat->kit->withPad($beat->pad($id)->with(['colour' => $this->colour])));
        }

        return $beat;
    }

    public function label(Beat $beat): string
    {
        return 'Colour of '.(1 === \count($this->pads) ? $beat->pad($this->pads[0])->name : \count($this->pads).' pads');
    }

    public function touches(): array
    {
        return array_map(static fn (string $id): string => 'kit/'.$id, $this->pads);
    }
}
