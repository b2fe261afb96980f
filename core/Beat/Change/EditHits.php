<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\PatternCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Hit;

/** Takes hits out of a pattern and puts others in: placing, removing, moving, shaping and recording are all this. */
final readonly class EditHits implements Change
{
    private const LABELS = [
        'place' => 'Place', 'remove' => 'Remove', 'velocity' => 'Velocity of', 'move' => 'Move',
        'chance' => 'Chance of', 'length' => 'Length of', 'record' => 'Recorded', 'clear' => 'Clear',
    ];

    /**
     * @param list<Hit>    $put
     * @param list<string> $take keys of hits, as Hit::key() gives them
     * @param list<string> $pads every pad this is about
     */
    private function __construct(private string $pattern, private array $put, private array $take, private string $gesture, private array $pads)
    {
    }

    public static function from(Fields $fields): self
    {
        $put = $fields->has('hits') ? PatternCodec::hits($fields) : [];
        $take = $pads = [];
        foreach ($fields->has('take') ? $fields->rows('take', 20_000) : [] as $t) {
            $pads[] = $t->id('1');
            $take[] = $t->whole('0', 0, 10_000_000).' '.$t->id('1');
        }
        $gesture = $fields->has('gesture') ? $fields->id('gesture') : 'place';
        if (!isset(self::LABELS[$gesture])) {
            throw InvalidChange::field('gesture', 'must be one of: '.implode(', ', array_keys(self::LABELS)).'.');
        }
        $pads = array_values(array_unique([...$pads, ...array_map(static fn (Hit $h): string => $h->pad, $put)]));
        if ([] === $pads) {
            throw new InvalidChange('No hit was named.');
        }

        return new self($fields->id('pattern'), $put, $take, $gesture, $pads);
    }

    public function apply(Beat $beat): Beat
    {
        $pattern = $beat->pattern($this->pattern);
        foreach ($this->put as $hit) {
            $beat->pad($hit->pad);
            if ($hit->tick >= $pattern->lengthTicks()) {
                throw new InvalidChange(\sprintf('A hit lies beyond the end of %s.', $pattern->name));
            }
        }
        $gone = array_flip($this->take);
        $kept = array_filter($pattern->hits, static fn (Hit $hit): bool => !isset($gone[$hit->place()]));

        return $beat->withPattern($pattern->withHits([...array_values($kept), ...$this->put]));
    }

    public function label(Beat $beat): string
    {
        $what = 1 === \count($this->pads) ? ($beat->kit->pad($this->pads[0])->name ?? 'hit') : \count($this->pads).' sounds';

        return self::LABELS[$this->gesture].' '.$what;
    }

    public function touches(): array
    {
        return array_map(fn (string $pad): string => 'pattern/'.$this->pattern.'/'.$pad, $this->pads);
    }
}
