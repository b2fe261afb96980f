<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Stretch;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Entry;
use Pestle\Core\Song\Part;
use Pestle\Core\Song\Section;

/** What the parts play in a range of the song becomes a section of its own, behind the one in which the range ends. */
final readonly class SectionOfRange implements Change
{
    private function __construct(private string $id, private string $name, private string $range)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('id'), $fields->text('name'), $fields->text('range'));
    }

    public function apply(Beat $beat): Beat
    {
        if (isset($beat->sections[$this->id])) {
            throw new InvalidChange('A section with this id is in the beat already.');
        }
        $stretch = Stretch::named($this->range) ?? throw InvalidChange::field('range', 'must be two ticks of the song, such as 3840-7680.');
        $passes = $stretch->passes($beat);
        if ([] === $passes) {
            throw new InvalidChange('The range lies behind the end of the song.');
        }
        $ticks = $stretch->to - $stretch->from;
        if ($ticks > Pattern::MAX_BARS * $beat->meter->barTicks()) {
            throw new InvalidChange(\sprintf('A section of a range has at most %d bars.', Pattern::MAX_BARS));
        }
        $section = new Section($this->id, $this->name, [], $ticks, $beat->section($passes[0][0]->section)->meter);
        foreach ($beat->parts as $part) {
            $pattern = self::played($beat, $part, $stretch, $passes);
            if (null !== $pattern) {
                $beat = $beat->withPattern($pattern->with(['id' => $id = $beat->nextPatternId(), 'name' => mb_substr($this->name.', '.$part->name, 0, 80)]));
                $section = $section->withCell($part->id, $id);
            }
        }
        $entry = new Entry($beat->nextEntryId(), $this->id);
        $last = $passes[\count($passes) - 1][0]->id;
        $at = 1 + (int) array_search($last, array_map(strval(...), array_keys($beat->song)), true);

        return $beat->withSection($section)->with(['song' => array_replace(\array_slice($beat->song, 0, $at), [$entry->id => $entry], \array_slice($beat->song, $at))]);
    }

    /**
     * What a part plays there, felt as the first of its patterns is; null for nothing.
     *
     * @param list<array{Entry, \Pestle\Core\Beat\Passage, int, int}> $passes
     */
    private static function played(Beat $beat, Part $part, Stretch $stretch, array $passes): ?Pattern
    {
        $ticks = $stretch->to - $stretch->from;
        $first = null;
        $hits = $notes = [];
        foreach ($passes as [, $passage, , $start]) {
            foreach ($passage->patterns as [$pattern, $in]) {
                if ($pattern->part !== $part->id) {
                    continue;
                }
                $first ??= $pattern;
                $later = $start + $in - $stretch->from;
                // No longer than the pass that plays it.
                $end = min($ticks, $start + $passage->ticks - $stretch->from);
                $inside = static fn (Hit|Note $e): bool => $e->tick + $later >= 0 && $e->tick + $later < $end;
                array_push($hits, ...array_map(static fn (Hit $h): Hit => $h->later($later), array_filter($pattern->hits, $inside)));
                array_push($notes, ...array_map(static fn (Note $n): Note => $n->later($later), array_filter($pattern->notes, $inside)));
                if (\count($hits) + \count($notes) > Pattern::MAX_HITS) {
                    throw new InvalidChange(\sprintf('%s plays more than %s hits there: choose a shorter range.', $part->name, number_format(Pattern::MAX_HITS)));
                }
            }
        }

        return null === $first || [] === [...$hits, ...$notes] ? null : $first->with(['ticks' => $ticks, 'hits' => $hits, 'notes' => $notes]);
    }

    public function label(Beat $beat): string
    {
        return $this->name.' of a range of the song';
    }

    public function touches(): array
    {
        return ['section/'.$this->id, 'song', 'pattern/new'];
    }
}
