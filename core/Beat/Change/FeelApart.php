<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Lane;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Pattern;

/** Chosen notes or hits are felt apart from the rest of their pattern, as a group with a feel of its own; or with the rest again. */
final readonly class FeelApart implements Change
{
    /**
     * @param array<string, true> $events ticks with pitches of notes or pads of hits
     * @param string              $group  empty for with the rest again
     */
    private function __construct(private string $pattern, private array $events, private string $group)
    {
    }

    public static function from(Fields $fields): self
    {
        $hits = $fields->has('hits') ? $fields->rows('hits', Pattern::MAX_HITS) : [];
        $notes = $fields->has('notes') ? $fields->rows('notes', Pattern::MAX_HITS) : [];
        $keys = [
            ...array_map(static fn (Fields $h): string => $h->whole('0', 0, 10_000_000).' '.$h->id('1'), $hits),
            ...array_map(static fn (Fields $n): string => $n->whole('0', 0, 10_000_000).' '.$n->whole('1', 0, Note::MAX_PITCH), $notes),
        ];
        $group = $fields->has('group') ? $fields->id('group') : '';
        if ('' !== $group && !preg_match('/^'.Pattern::GROUP.'\d{1,4}$/', $group)) {
            throw InvalidChange::field('group', \sprintf('must be %s and a number.', Pattern::GROUP));
        }

        return new self($fields->id('pattern'), array_fill_keys($keys, true), $group);
    }

    public function apply(Beat $beat): Beat
    {
        $pattern = $beat->pattern($this->pattern);
        $found = 0;
        $grouped = function (Hit|Note $event) use (&$found): Hit|Note {
            if (!isset($this->events[$event instanceof Hit ? $event->place() : $event->key()])) {
                return $event;
            }
            ++$found;

            return $event->feltWith($this->group);
        };
        /** @var list<Hit> $hits */
        $hits = array_map($grouped, $pattern->hits);
        /** @var list<Note> $notes */
        $notes = array_map($grouped, $pattern->notes);
        if (0 === $found) {
            throw new InvalidChange('Nothing is chosen: choose some hits or notes, to feel them apart.');
        }
        $lanes = '' === $this->group || isset($pattern->lanes[$this->group]) ? $pattern->lanes : array_replace($pattern->lanes, [$this->group => new Lane(null, $pattern->feel->with([]))]);
        $used = array_flip([...array_column($hits, 'group'), ...array_column($notes, 'group')]);
        // A group that nobody belongs to any more is gone.
        $lanes = array_filter($lanes, static fn (int|string $id): bool => !str_starts_with((string) $id, Pattern::GROUP) || isset($used[$id]), \ARRAY_FILTER_USE_KEY);

        return $beat->withPattern($pattern->with(['hits' => $hits, 'notes' => $notes, 'lanes' => $lanes]));
    }

    public function label(Beat $beat): string
    {
        return \count($this->events).(preg_match('/ \d+$/', (string) array_key_first($this->events)) ? ' notes' : ' hits').('' === $this->group ? ' felt with the rest' : ' felt apart');
    }

    public function touches(): array
    {
        return ['pattern/'.$this->pattern];
    }
}
