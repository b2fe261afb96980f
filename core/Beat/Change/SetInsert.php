<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Mix\InsertSettings;

/** Moves an insert to another place among those of its line, or says which line steers it: "" for its own sound. */
final readonly class SetInsert implements Change
{
    private function __construct(private string $node, private string $insert, private ?int $place, private ?string $key)
    {
    }

    public static function from(Fields $fields): self
    {
        $place = $fields->has('place') ? $fields->whole('place', 0, 1000) : null;
        if (null === $place && !\in_array('key', $fields->keys(), true)) {
            throw new InvalidChange('Nothing to change was named.');
        }

        return new self($fields->id('node'), $fields->id('insert'), $place, $fields->has('key') ? $fields->id('key') : null);
    }

    public function apply(Beat $beat): Beat
    {
        $line = $beat->line($this->node);
        $insert = $line->insert($this->insert);
        if (null !== $this->place) {
            $others = array_values(array_filter($line->inserts, fn (InsertSettings $i): bool => $i->id() !== $this->insert));
            array_splice($others, min($this->place, \count($others)), 0, [$insert]);

            return $beat->withMixer($beat->mixer->withLine($line->with(['inserts' => $others])));
        }
        if (null !== $this->key && !isset($beat->mixer->nodes[$this->key])) {
            throw InvalidChange::field('key', 'must be a channel, group or return of this beat.');
        }

        return $beat->withMixer($beat->mixer->withLine($line->withInsert($insert->steeredBy($this->key))));
    }

    public function label(Beat $beat): string
    {
        $kind = $beat->line($this->node)->insert($this->insert)->kind()->label().' of '.$beat->nameOf($this->node);

        return match (true) {
            null !== $this->place => 'Place of the '.lcfirst($kind),
            null === $this->key => $kind.' follows itself',
            default => $kind.' follows '.$beat->channel($this->key)->name,
        };
    }

    public function touches(): array
    {
        return ['mixer/'.$this->node.'/inserts'];
    }
}
