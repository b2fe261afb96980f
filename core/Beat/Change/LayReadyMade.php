<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\PatternCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Pattern\ReadyMade;

/** Lays a drum pattern that comes with Pestle onto a kit by the roles of its pads, as a pattern of its own that a section plays from now on. */
final readonly class LayReadyMade implements Change
{
    private function __construct(private ReadyMade $ready, private string $part, private string $section, private string $id)
    {
    }

    public static function from(Fields $fields): self
    {
        $ready = ReadyMade::all()[$fields->id('ready')] ?? throw InvalidChange::field('ready', 'must be one of: '.implode(', ', array_keys(ReadyMade::all())).'.');

        return new self($ready, $fields->id('part'), $fields->id('section'), $fields->id('id'));
    }

    public function apply(Beat $beat): Beat
    {
        $part = $beat->part($this->part);
        if (isset($beat->patterns[$this->id])) {
            throw new InvalidChange('A pattern with this id is in the beat already.');
        }
        $hits = $this->ready->on(array_values(array_filter($beat->kit->pads, static fn (Pad $pad): bool => $beat->kit->partOf($pad->id) === $part->id)));
        if ([] === $hits) {
            throw new InvalidChange(\sprintf('%s has no sounds for a drum pattern: give its pads roles such as kick, snare and hat.', $part->name));
        }
        $pattern = Pattern::of($this->id, $this->ready->name, $part->id, $this->ready->ticks(), PatternCodec::feel(new Fields($this->ready->feel)), $hits);

        return $beat->withPattern($pattern)->withSection($beat->section($this->section)->withCell($part->id, $this->id));
    }

    public function label(Beat $beat): string
    {
        return $this->ready->name.' laid on';
    }

    public function touches(): array
    {
        return ['pattern/new', 'section/'.$this->section];
    }
}
