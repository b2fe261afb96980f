<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\PatternCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Theory\Ticks;

/** Adds what was played live: hits at the ticks at which they were heard, drawn to the steps if wished, beside what their pads had before or in its place. */
final readonly class RecordHits implements Change
{
    /**
     * @param non-empty-list<Hit> $played
     * @param int                 $strength how far they are drawn to the steps, in percent
     */
    private function __construct(private string $pattern, private array $played, private int $strength, private bool $replace)
    {
    }

    public static function from(Fields $fields): self
    {
        $played = PatternCodec::hits($fields);
        if ([] === $played) {
            throw new InvalidChange('Nothing was played.');
        }

        return new self($fields->id('pattern'), $played, $fields->flag('quantise') ? ($fields->has('strength') ? $fields->whole('strength', 0, 100) : 100) : 0, $fields->has('replace') && $fields->flag('replace'));
    }

    public function apply(Beat $beat): Beat
    {
        $pattern = $beat->pattern($this->pattern);
        $pads = array_flip(array_map(static fn (Hit $hit): string => $hit->pad, $this->played));
        $hits = $this->replace ? array_values(array_filter($pattern->hits, static fn (Hit $hit): bool => !isset($pads[$hit->pad]))) : $pattern->hits;
        foreach ($this->played as $hit) {
            $beat->pad($hit->pad);
            // What was heard with the pattern's feel is stored as it is written.
            $tick = $beat->feeling($pattern->feelOf($hit->pad))->written($hit->tick % $pattern->lengthTicks());
            $hits[] = $hit->at(Ticks::drawn($tick, $this->strength) % $pattern->lengthTicks());
        }

        return $beat->withPattern($pattern->withHits($hits));
    }

    public function label(Beat $beat): string
    {
        return \sprintf('Recorded %d %s', \count($this->played), 1 === \count($this->played) ? 'hit' : 'hits');
    }

    public function touches(): array
    {
        return array_values(array_unique(array_map(fn (Hit $hit): string => 'pattern/'.$this->pattern.'/'.$hit->pad, $this->played)));
    }
}
