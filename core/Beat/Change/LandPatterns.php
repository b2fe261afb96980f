<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\PatternCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Feel;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Entry;
use Pestle\Core\Song\Part;
use Pestle\Core\Song\Section;
use Pestle\Core\Theory\Key;
use Pestle\Core\Theory\Meter;
use Pestle\Core\Theory\Tempo;

/**
 * Brings ready patterns into the beat, one or several that play together: each to its part, all into one section, which is
 * made when it is not there, or into several that follow one another; with their tempo, meter and key, if wished.
 */
final readonly class LandPatterns implements Change
{
    /**
     * @param non-empty-list<array{id: string, name: string, part: string, ticks: int, pattern: Fields}> $patterns
     * @param array<string, array{string, array<string, string>}>                                        $sections     name of each, and its patterns by part; none where all go into one
     * @param Meter|null                                                                                 $sectionMeter of sections that are made, where it is not the beat's
     */
    private function __construct(private array $patterns, private string $section, private string $sectionName, private ?Tempo $tempo, private ?Meter $meter, private string $from, private array $sections, private ?Meter $sectionMeter, private ?Key $key)
    {
    }

    public static function from(Fields $fields): self
    {
        $patterns = array_map(static fn (Fields $row): array => ['id' => $row->id('id'), 'name' => $row->text('name'), 'part' => $row->id('part'), 'ticks' => $row->whole('ticks', 1, Pattern::MAX_TICKS), 'pattern' => $row], $fields->rows('patterns', Beat::MAX_PATTERNS));
        $sections = [];
        foreach ($fields->has('sections') ? $fields->rows('sections', Section::MOST) : [] as $row) {
            $cells = $row->nested('patterns');
            $sections[$row->id('id')] = [$row->text('name'), array_combine($cells->keys(), array_map($cells->id(...), $cells->keys()))];
        }

        return new self(
            [] === $patterns ? throw InvalidChange::field('patterns', 'must hold at least one pattern.') : $patterns,
            $fields->id('section'),
            $fields->has('sectionName') ? $fields->text('sectionName') : 'Section',
            $fields->has('bpm') ? Tempo::bpm($fields->number('bpm', Tempo::SLOWEST, Tempo::MAX)) : null,
            $fields->has('meter') ? $fields->meter('meter') : null,
            $fields->has('from') ? $fields->text('from', 120) : '',
            $sections,
            $fields->has('sectionMeter') ? $fields->meter('sectionMeter') : null,
            $fields->has('key') ? Key::named($fields->text('key')) : null,
        );
    }

    public function apply(Beat $beat): Beat
    {
        $beat = null === $this->tempo ? $beat : SetTempo::to($beat, $this->tempo);
        $beat = null === $this->meter ? $beat : $beat->with(['meter' => $this->meter]);
        $beat = null === $this->key ? $beat : $beat->with(['key' => $this->key]);
        $cells = [];
        foreach ($this->patterns as ['id' => $id, 'name' => $name, 'part' => $part, 'ticks' => $ticks, 'pattern' => $fields]) {
            $part = $beat->part($part);
            $hits = $fields->has('hits') ? PatternCodec::hits($fields) : [];
            $notes = $fields->has('notes') ? PatternCodec::notes($fields) : [];
            if ([] !== ($part->isKit() ? $notes : $hits)) {
                throw new InvalidChange(\sprintf('%s plays %s.', $part->name, $part->isKit() ? 'hits, not notes' : 'notes, not hits'));
            }
            foreach (array_unique(array_map(static fn (Hit $h): string => $h->pad, $hits)) as $pad) {
                $beat->pad($pad);
            }
            if (isset($beat->patterns[$id])) {
                throw new InvalidChange('A pattern with this id is in the beat already.');
            }
            $feel = $fields->has('feel') ? PatternCodec::feel($fields->nested('feel')) : new Feel();
            $beat = $beat->withPattern(Pattern::of($id, $name, $part->id, $ticks, $feel, $hits, $notes));
            $cells[$part->id] = $id;
        }
        foreach ([] === $this->sections ? [$this->section => [$this->sectionName, $cells]] : $this->sections as $id => [$name, $own]) {
            $beat = $this->withSection($beat, $id, $name, $own);
        }

        return $beat;
    }

    /** @param array<string, string> $cells patterns by part */
    private function withSection(Beat $beat, string $id, string $name, array $cells): Beat
    {
        $section = $beat->sections[$id] ?? null;
        if (null === $section) {
            $meter = null === $this->sectionMeter || $this->sectionMeter->name() === $beat->meter->name() ? null : $this->sectionMeter;
            $section = (new Section($id, $name, []))->with(['meter' => $meter]);
            $beat = $beat->withEntry(new Entry($beat->nextEntryId(), $id));
        }
        foreach ($cells as $part => $pattern) {
            $section = $section->withCell($beat->part($part)->id, $beat->pattern($pattern)->id);
        }

        return $beat->withSection($section);
    }

    public function label(Beat $beat): string
    {
        return '' === $this->from ? \sprintf('%s laid on', $this->patterns[0]['name']) : $this->from.' brought in';
    }

    public function touches(): array
    {
        return ['pattern/new', 'section/'.$this->section, ...array_map(static fn (string $id): string => 'section/'.$id, array_keys($this->sections)), ...null === $this->tempo ? [] : ['tempo'], ...null === $this->meter ? [] : ['meter'], ...null === $this->key ? [] : ['key']];
    }
}
