<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\SongCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Pattern;

/** Sets a pattern's name, its colour, or its length in bars. Hits beyond a shorter length go. */
final readonly class SetPattern implements Change
{
    private function __construct(private string $pattern, private ?string $name, private ?int $bars, private bool $coloured, private ?string $colour)
    {
    }

    public static function from(Fields $fields): self
    {
        $change = new self(
            $fields->id('pattern'),
            $fields->has('name') ? $fields->text('name') : null,
            $fields->has('bars') ? $fields->whole('bars', 1, Pattern::MAX_BARS) : null,
            \in_array('colour', $fields->keys(), true),
            $fields->has('colour') ? SongCodec::colour($fields) : null,
        );
        if (null === ($change->name ?? $change->bars) && !$change->coloured) {
            throw new InvalidChange('Nothing to change was named.');
        }

        return $change;
    }

    public function apply(Beat $beat): Beat
    {
        $pattern = $beat->pattern($this->pattern);
        $pattern = null === $this->name ? $pattern : $pattern->with(['name' => $this->name]);
        $pattern = null === $this->bars ? $pattern : $pattern->with(['ticks' => $this->bars * $beat->meter->barTicks()]);

        return $beat->withPattern($this->coloured ? $pattern->with(['colour' => $this->colour]) : $pattern);
    }

    public function label(Beat $beat): string
    {
        return match (true) {
            null !== $this->name => 'Name of the pattern',
            null !== $this->bars => \sprintf('Length %d %s', $this->bars, 1 === $this->bars ? 'bar' : 'bars'),
            default => 'Colour of the pattern',
        };
    }

    public function touches(): array
    {
        return ['pattern/'.$this->pattern];
    }
}
