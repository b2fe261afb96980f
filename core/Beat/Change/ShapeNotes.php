<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\NoteShape;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Theory\Chord;

/** Works on several notes of a pattern, or all of them: splits, joins, repeats, strums, or builds chords on them, by name or from the key. */
final readonly class ShapeNotes implements Change
{
    private const IN_KEY = 'key';

    /** @param list<string> $notes their keys; none for all */
    private function __construct(private string $pattern, private array $notes, private ?NoteShape $shape, private ?string $chord, private int $grid)
    {
    }

    public static function from(Fields $fields): self
    {
        $chord = $fields->has('chord') ? $fields->text('chord', 12) : null;
        if (null !== $chord && self::IN_KEY !== $chord && null === Chord::tryFrom($chord)) {
            throw InvalidChange::field('chord', 'must be "key" or one of: '.implode(', ', array_column(Chord::cases(), 'value')).'.');
        }
        $notes = array_map(static fn (Fields $t): string => $t->whole('0', 0, Pattern::MAX_TICKS).' '.$t->whole('1', 0, Note::MAX_PITCH), $fields->has('notes') ? $fields->rows('notes', Pattern::MAX_HITS) : []);

        return new self($fields->id('pattern'), $notes, null === $chord ? $fields->choice('how', NoteShape::class) : null, $chord, $fields->has('grid') ? $fields->whole('grid', -960, 3840) : 240);
    }

    public function apply(Beat $beat): Beat
    {
        $pattern = $beat->pattern($this->pattern);
        $chosen = array_flip($this->notes);
        $of = [] === $chosen ? $pattern->notes : array_values(array_filter($pattern->notes, static fn (Note $n): bool => isset($chosen[$n->key()])));
        if ([] === $of) {
            throw new InvalidChange('None of these notes is in the pattern any more.');
        }
        $shaped = null === $this->shape ? $this->chords($beat, $of) : $this->shape->of($of, $this->grid, $pattern->ticks);
        $kept = array_filter($pattern->notes, static fn (Note $n): bool => !\in_array($n, $of, true));

        return $beat->withPattern($pattern->withNotes([...array_values($kept), ...$shaped]));
    }

    /**
     * @param non-empty-list<Note> $notes
     *
     * @return list<Note>
     */
    private function chords(Beat $beat, array $notes): array
    {
        $key = $beat->key;
        if (self::IN_KEY === $this->chord && null === $key) {
            throw new InvalidChange('The beat has no key: set one first, or choose a chord by its name.');
        }
        $chord = Chord::tryFrom((string) $this->chord);
        $built = [];
        foreach ($notes as $note) {
            $pitches = null === $chord ? Chord::inScale($note->pitch, $key?->scale() ?? []) : array_map(static fn (int $s): int => $note->pitch + $s, $chord->semitones());
            foreach ($pitches as $pitch) {
                if ($pitch <= Note::MAX_PITCH) {
                    $built[] = new Note($note->tick, $pitch, $note->velocity, $note->length, $note->chance, $note->fine, $note->fineLength);
                }
            }
        }

        return $built;
    }

    public function label(Beat $beat): string
    {
        $count = \count($this->notes);
        $what = match ($count) {
            0 => 'all notes',
            1 => 'a note',
            default => $count.' notes',
        };

        return null === $this->shape ? 'Chords on '.$what : $this->shape->label().' '.$what;
    }

    public function touches(): array
    {
        return ['pattern/'.$this->pattern];
    }
}
