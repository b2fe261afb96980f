<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\SongCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Song\Movement;
use Pestle\Core\Theory\Curve;

/** Lets a parameter move over the song, a section or with a pattern; with an empty list of points it stays as it is set. */
final readonly class SetMovement implements Change
{
    /** @param Curve|null $curve null where it stays, or goes on as it moves */
    private function __construct(private Moving $moving, private bool $stays, private ?Curve $curve, private ?float $smoothMs, private ?bool $on)
    {
    }

    public static function from(Fields $fields): self
    {
        $said = $fields->has('points');
        $stays = $said && [] === $fields->rows('points', Curve::MOST_POINTS);

        return new self(
            Moving::from($fields),
            $stays,
            $said && !$stays ? SongCodec::curve($fields, 'points') : null,
            $fields->has('smoothMs') ? $fields->number('smoothMs', Movement::LEAST_SMOOTH_MS, Movement::MOST_SMOOTH_MS) : null,
            $fields->has('on') ? $fields->flag('on') : null,
        );
    }

    public function apply(Beat $beat): Beat
    {
        return $this->stays
            ? $beat->with(['movements' => $beat->movements->without($this->moving->id())])
            : $this->moving->moved($beat, ($this->curve ?? $this->moving->curve($beat))->points, $this->smoothMs, $this->on);
    }

    public function label(Beat $beat): string
    {
        return $this->moving->words($beat).($this->stays ? ' stays' : ' moves');
    }

    public function touches(): array
    {
        return $this->moving->touches();
    }
}
