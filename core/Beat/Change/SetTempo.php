<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Theory\Tempo;

/** A recording's key and meter may come with its tempo. Samples that follow the tempo keep time with the new one; their slices and pads stay on their sound. */
final readonly class SetTempo implements Change
{
    // What follows the tempo is moved: places that another window holds may be old ones.
    public const TOUCHES = ['tempo', 'edits', 'slices', 'kit'];

    private function __construct(private Tempo $tempo, private ?SetKey $key, private ?SetMeter $meter)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self(Tempo::bpm($fields->number('bpm', Tempo::SLOWEST, Tempo::MAX)), $fields->has('key') ? SetKey::from($fields) : null, $fields->has('meter') ? SetMeter::from($fields) : null);
    }

    public function apply(Beat $beat): Beat
    {
        $beat = self::to($beat, $this->tempo);

        $beat = $this->meter?->apply($beat) ?? $beat;

        return $this->key?->apply($beat) ?? $beat;
    }

    public static function to(Beat $beat, Tempo $tempo): Beat
    {
        return SetEdits::atTempo($beat->with(['tempo' => $tempo]));
    }

    public function label(Beat $beat): string
    {
        $others = array_map(static fn (Change $change): string => ', '.lcfirst($change->label($beat)), array_filter([$this->meter, $this->key]));

        return \sprintf('Tempo %s BPM', $this->tempo->bpm).implode('', $others);
    }

    public function touches(): array
    {
        return [...self::TOUCHES, ...$this->key?->touches() ?? [], ...$this->meter?->touches() ?? []];
    }
}
