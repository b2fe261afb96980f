<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Song\Entry;
use Pestle\Core\Song\Scope;
use Pestle\Core\Song\Section;

/**
 * Adds a section at the end of the song, or behind a place in it: an empty one, or a copy of another. A copy has patterns
 * of its own; one that stays linked has those of the other, so that a change to a pattern is heard in both.
 */
final readonly class AddSection implements Change
{
    private function __construct(private string $id, private string $name, private ?string $copyOf, private bool $linked, private ?int $after)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self(
            $fields->id('id'),
            $fields->text('name'),
            $fields->has('copyOf') ? $fields->id('copyOf') : null,
            $fields->has('linked') && $fields->flag('linked'),
            $fields->has('after') ? $fields->whole('after', 0, Beat::MAX_SONG) : null,
        );
    }

    public function apply(Beat $beat): Beat
    {
        if (isset($beat->sections[$this->id])) {
            throw new InvalidChange('A section with this id is in the beat already.');
        }
        $section = null === $this->copyOf ? new Section($this->id, $this->name, []) : $beat->section($this->copyOf)->with(['id' => $this->id, 'name' => $this->name]);
        foreach ($this->linked ? [] : $section->patterns as $part => $id) {
            $copy = $beat->pattern($id)->with(['id' => $beat->nextPatternId(), 'name' => mb_substr($this->name.', '.$beat->part($part)->name, 0, 80)]);
            $beat = $beat->withPattern($copy)->with(['movements' => $beat->movements->copied(Scope::Pattern, $id, $copy->id)]);
            $section = $section->withCell($part, $copy->id);
        }
        $entry = new Entry($beat->nextEntryId(), $this->id);
        $at = $this->after ?? \count($beat->song);
        $song = array_replace(\array_slice($beat->song, 0, $at), [$entry->id => $entry], \array_slice($beat->song, $at));

        $movements = null === $this->copyOf ? $beat->movements : $beat->movements->copied(Scope::Section, $this->copyOf, $this->id);

        return $beat->withSection($section)->with(['song' => $song, 'movements' => $movements]);
    }

    public function label(Beat $beat): string
    {
        return null === $this->copyOf ? 'New section' : ($this->linked ? 'Linked copy of ' : 'Copy of ').$beat->section($this->copyOf)->name;
    }

    public function touches(): array
    {
        return ['section/'.$this->id, 'song', 'pattern/new', ...(null === $this->copyOf ? [] : ['section/'.$this->copyOf])];
    }
}
