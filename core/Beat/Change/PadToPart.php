<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Bank;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Song\Part;

/** Moves a sound with its hits to a part of its own: it plays what it played, in the same sections, and can go its own way. */
final readonly class PadToPart implements Change
{
    private function __construct(private string $pad, private string $id)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('pad'), $fields->id('id'));
    }

    public function apply(Beat $beat): Beat
    {
        $pad = $beat->pad($this->pad);
        if (isset($beat->parts[$this->id])) {
            throw new InvalidChange('A part with this id is in the beat already.');
        }
        $bank = $beat->kit->nextBankId() ?? throw new InvalidChange('All banks are in use: delete a part first.');
        $place = $bank.'0';
        $kit = $beat->kit->withBank(new Bank($bank, Bank::NAME.' 1', $this->id))->withPad($pad->with(['id' => $place]))->withoutPad($this->pad);
        $beat = $beat->withPart(new Part($this->id, $pad->name))->withKit($kit);
        $own = [];
        foreach ($beat->patterns as $pattern) {
            $hits = array_values(array_filter($pattern->hits, fn (Hit $hit): bool => $hit->pad === $this->pad));
            if ([] === $hits) {
                continue;
            }
            $moved = $pattern->with(['id' => $beat->nextPatternId(), 'part' => $this->id, 'hits' => array_map(static fn (Hit $hit): Hit => $hit->on($place), $hits)]);
            $own[$pattern->id] = $moved->id;
            $beat = $beat->withPattern($moved)->withPattern($pattern->withHits(array_values(array_filter($pattern->hits, fn (Hit $hit): bool => $hit->pad !== $this->pad))));
        }
        foreach ($beat->sections as $section) {
            foreach (array_intersect_key($own, array_flip($section->patterns)) as $pattern) {
                $beat = $beat->withSection($section->withCell($this->id, $pattern));
            }
        }

        return $beat;
    }

    public function label(Beat $beat): string
    {
        return $beat->pad($this->pad)->name.' as a part of its own';
    }

    public function touches(): array
    {
        return ['kit', 'pattern', 'section', 'part/'.$this->id];
    }
}
