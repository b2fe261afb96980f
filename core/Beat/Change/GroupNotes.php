<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Lane;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Pattern;

/** Chosen notes are felt apart from the rest of their pattern, as a group with a feel of its own; or with the rest again. */
final readonly class GroupNotes implements Change
{
    /**
     * @param array<string, true> $notes keys of notes
     * @param string              $group empty for with the rest again
     */
    private function __construct(private string $pattern, private array $notes, private string $group)
    {
    }

    public static function from(Fields $fields): self
    {
        $keys = array_map(static fn (Fields $t): string => $t->whole('0', 0, 10_000_000).' '.$t->whole('1', 0, Note::MAX_PITCH), $fields->rows('notes', Pattern::MAX_HITS));
        $group = $fields->has('group') ? $fields->id('group') : '';
        if ('' !== $group && !preg_match('/^'.Pattern::GROUP.'\d{1,4}$/', $group)) {
            throw InvalidChange::field('group', \sprintf('must be %s and a number.', Pattern::GROUP));
        }

        return new self($fields->id('pattern'), array_fill_keys($keys, true), $group);
    }

    public function apply(Beat $beat): Beat
    {
        $pattern = $beat->pattern($this->pattern);
        $notes = array_map(fn (Note $n): Note => isset($this->notes[$n->key()]) ? $n->feltWith($this->group) : $n, $pattern->notes);
        if ([] === array_filter($notes, fn (Note $n): bool => isset($this->notes[$n->key()]))) {
            throw new InvalidChange('No note is chosen: choose some, to feel them apart.');
        }
        $lanes = '' === $this->group || isset($pattern->lanes[$this->group]) ? $pattern->lanes : [...$pattern->lanes, $this->group => new Lane(null, $pattern->feel->with([]))];
        $used = array_flip(array_column($notes, 'group'));
        // A group that nobody belongs to any more is gone.
        $lanes = array_filter($lanes, static fn (int|string $id): bool => !str_starts_with((string) $id, Pattern::GROUP) || isset($used[$id]), \ARRAY_FILTER_USE_KEY);

        return $beat->withPattern($pattern->with(['notes' => $notes, 'lanes' => $lanes]));
    }

    public function label(Beat $beat): string
    {
        return \count($this->notes).('' === $this->group ? ' notes felt with the rest' : ' notes felt apart');
    }

    public function touches(): array
    {
        return ['pattern/'.$this->pattern];
    }
}
