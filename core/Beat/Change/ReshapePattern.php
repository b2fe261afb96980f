<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Theory\Ticks;

/** Works on a whole pattern: a bar over the others, all hits to the steps, or twice the length with its copy. */
final readonly class ReshapePattern implements Change
{
    private function __construct(private string $pattern, private string $how, private int $bar)
    {
    }

    public static function from(Fields $fields): self
    {
        $how = $fields->id('how');
        if (!\in_array($how, ['repeat-bar', 'quantise', 'double'], true)) {
            throw InvalidChange::field('how', 'must be one of: repeat-bar, quantise, double.');
        }

        return new self($fields->id('pattern'), $how, 'repeat-bar' === $how ? $fields->whole('bar', 1, Pattern::MAX_BARS) : 1);
    }

    public function apply(Beat $beat): Beat
    {
        $pattern = $beat->pattern($this->pattern);
        if ($this->bar > $pattern->bars) {
            throw InvalidChange::field('bar', \sprintf('must be a bar of the pattern, 1 to %d.', $pattern->bars));
        }

        return $beat->withPattern(match ($this->how) {
            'repeat-bar' => $pattern->withBarRepeated($this->bar - 1),
            'quantise' => $pattern->quantised(),
            default => self::doubled($pattern),
        });
    }

    private static function doubled(Pattern $pattern): Pattern
    {
        if (2 * $pattern->bars > Pattern::MAX_BARS) {
            throw new InvalidChange(\sprintf('A pattern has at most %d bars.', Pattern::MAX_BARS));
        }
        $copy = array_map(static fn ($hit) => $hit->at($hit->tick + $pattern->bars * Ticks::PER_BAR), $pattern->hits);

        return $pattern->withBars(2 * $pattern->bars)->withHits([...$pattern->hits, ...$copy]);
    }

    public function label(Beat $beat): string
    {
        return match ($this->how) {
            'repeat-bar' => \sprintf('Bar %d over the others', $this->bar),
            'quantise' => 'Quantise',
            default => 'Double length',
        };
    }

    public function touches(): array
    {
        return ['pattern/'.$this->pattern];
    }
}
