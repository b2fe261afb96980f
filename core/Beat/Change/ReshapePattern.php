<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Pattern;

/** Works on a whole pattern: a bar over the others, twice the length with its copy, or its first half. */
final readonly class ReshapePattern implements Change
{
    private function __construct(private string $pattern, private string $how, private int $bar)
    {
    }

    public static function from(Fields $fields): self
    {
        $how = $fields->id('how');
        if (!\in_array($how, ['repeat-bar', 'double', 'halve'], true)) {
            throw InvalidChange::field('how', 'must be one of: repeat-bar, double, halve.');
        }

        return new self($fields->id('pattern'), $how, 'repeat-bar' === $how ? $fields->whole('bar', 1, Pattern::MAX_BARS) : 1);
    }

    public function apply(Beat $beat): Beat
    {
        $pattern = $beat->pattern($this->pattern);
        $bars = $pattern->bars($beat->meter);
        if ($this->bar > $bars) {
            throw InvalidChange::field('bar', \sprintf('must be a bar of the pattern, 1 to %d.', $bars));
        }
        if ('double' === $this->how && 2 * $bars > Pattern::MAX_BARS) {
            throw new InvalidChange(\sprintf('A pattern has at most %d bars.', Pattern::MAX_BARS));
        }

        return $beat->withPattern(match ($this->how) {
            'repeat-bar' => $pattern->withBarRepeated($this->bar - 1, $beat->meter),
            'halve' => $pattern->with(['ticks' => max(1, intdiv($pattern->ticks, 2))]),
            default => $pattern->doubled(),
        });
    }

    public function label(Beat $beat): string
    {
        return match ($this->how) {
            'repeat-bar' => \sprintf('Bar %d over the others', $this->bar),
            'halve' => 'First half only',
            default => 'Double length',
        };
    }

    public function touches(): array
    {
        return ['pattern/'.$this->pattern];
    }
}
