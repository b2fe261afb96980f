<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\PatternCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Feeling;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Theory\Ticks;

/** Takes notes out of a pattern and puts others in: drawing, moving, lengthening and recording are all this. */
final readonly class EditNotes implements Change
{
    private const LABELS = [
        'place' => 'Place', 'remove' => 'Delete', 'velocity' => 'Velocity of', 'move' => 'Move', 'length' => 'Length of',
        'transpose' => 'Transpose', 'paste' => 'Paste', 'chance' => 'Chance of', 'record' => 'Recorded',
    ];

    /**
     * @param list<Note>   $put
     * @param list<string> $take     keys of notes, as Note::key() gives them
     * @param int          $strength how far what is recorded is drawn to the steps, in percent
     * @param bool         $replace  whether it takes the place of all that was there
     */
    private function __construct(private string $pattern, private array $put, private array $take, private string $gesture, private int $strength, private bool $replace)
    {
    }

    public static function from(Fields $fields): self
    {
        $put = $fields->has('notes') ? PatternCodec::notes($fields) : [];
        $take = array_map(static fn (Fields $t): string => $t->whole('0', 0, 10_000_000).' '.$t->whole('1', 0, Note::MAX_PITCH), $fields->has('take') ? $fields->rows('take', Pattern::MAX_HITS) : []);
        $gesture = $fields->has('gesture') ? $fields->id('gesture') : 'place';
        if (!isset(self::LABELS[$gesture])) {
            throw InvalidChange::field('gesture', 'must be one of: '.implode(', ', array_keys(self::LABELS)).'.');
        }
        if ([] === $put && [] === $take) {
            throw new InvalidChange('No note was named.');
        }

        return new self($fields->id('pattern'), $put, $take, $gesture, $fields->has('quantise') && $fields->flag('quantise') ? ($fields->has('strength') ? $fields->whole('strength', 0, 100) : 100) : 0, $fields->has('replace') && $fields->flag('replace'));
    }

    public function apply(Beat $beat): Beat
    {
        $pattern = $beat->pattern($this->pattern);
        if ($beat->part($pattern->part)->isKit()) {
            throw new InvalidChange(\sprintf('%s belongs to a kit: it has hits, not notes.', $pattern->name));
        }
        $put = 'record' === $this->gesture ? array_map(fn (Note $n): Note => $this->recorded($n, $pattern, $beat->feeling($pattern->feel)), $this->put) : $this->put;
        foreach ($put as $note) {
            if ($note->tick >= $pattern->ticks) {
                throw new InvalidChange(\sprintf('A note lies beyond the end of %s.', $pattern->name));
            }
        }
        $gone = array_flip($this->take);
        $kept = $this->replace ? [] : array_filter($pattern->notes, static fn (Note $note): bool => !isset($gone[$note->key()]));

        return $beat->withPattern($pattern->withNotes([...array_values($kept), ...$put]));
    }

    /** What was heard with the pattern's feel is stored as it is written, on the steps if wished. */
    private function recorded(Note $note, Pattern $pattern, Feeling $feeling): Note
    {
        $tick = $feeling->written($note->tick % $pattern->ticks);

        return $note->at(Ticks::drawn($tick, $this->strength) % $pattern->ticks);
    }

    public function label(Beat $beat): string
    {
        $count = max(\count($this->put), \count($this->take));

        return self::LABELS[$this->gesture].(1 === $count ? ' a note' : " $count notes");
    }

    public function touches(): array
    {
        return ['pattern/'.$this->pattern];
    }
}
