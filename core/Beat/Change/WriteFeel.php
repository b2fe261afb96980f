<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Pattern\Feel;
use Pestle\Core\Pattern\Feeling;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Lane;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Pattern;

/**
 * Writes the feel of patterns, or of one lane, into its hits and notes, and takes it off: it is heard as it was. What
 * is heard before the start is written at the end. A lane that goes round by itself is felt differently in each of its
 * rounds, so it keeps its feel.
 */
final readonly class WriteFeel implements Change
{
    /** @param non-empty-list<string> $patterns */
    private function __construct(private array $patterns, private ?string $lane)
    {
    }

    public static function from(Fields $fields): self
    {
        $patterns = $fields->ids('patterns', Beat::MAX_PATTERNS);

        return new self([] === $patterns ? [$fields->id('pattern')] : $patterns, $fields->has('lane') ? $fields->id('lane') : null);
    }

    public function apply(Beat $beat): Beat
    {
        foreach ($this->patterns as $id) {
            $beat = $beat->withPattern(self::into($beat, $beat->pattern($id), $this->lane));
        }

        return $beat;
    }

    public static function into(Beat $beat, Pattern $pattern, ?string $lane): Pattern
    {
        /** @var list<Hit> $hits */
        $hits = array_map(static fn (Hit $hit): Hit|Note => (null !== $lane && $hit->pad !== $lane) || null !== $pattern->lane($hit->pad)->ticks ? $hit : self::written($beat->feeling($pattern->feelOf($hit->pad)), $hit, $pattern->ticks), $pattern->hits);
        /** @var list<Note> $notes */
        $notes = array_map(static fn (Note $note): Hit|Note => null !== $lane && $note->group !== $lane ? $note : self::written($beat->feeling($pattern->feelOf('' === $note->group ? null : $note->group)), $note, $pattern->ticks), $pattern->notes);
        $pattern = $pattern->with(['hits' => $hits, 'notes' => $notes]);
        if (null !== $lane && null !== $pattern->lane($lane)->ticks) {
            return $pattern;
        }
        if (null !== $lane) {
            return $pattern->withLane($lane, $pattern->lane($lane)->with(['feel' => $pattern->feel->isPlain() ? null : new Feel()]));
        }

        return $pattern->with(['feel' => new Feel(), 'lanes' => array_map(static fn (Lane $l): Lane => $l->with(['feel' => null === $l->ticks ? null : $l->feel ?? $pattern->feel]), $pattern->lanes)]);
    }

    /** @param int $ticks that go round */
    private static function written(Feeling $feeling, Hit|Note $event, int $ticks): Hit|Note
    {
        if ($event->tick >= $ticks) {
            return $event;
        }
        $played = $feeling->played($event);
        $tick = (($played->tick % $ticks) + $ticks) % $ticks;

        return $played->later($tick - $played->tick);
    }

    public function label(Beat $beat): string
    {
        return 'Feel written into '.(null === $this->lane ? (1 === \count($this->patterns) ? $beat->pattern($this->patterns[0])->name : \count($this->patterns).' patterns') : $beat->kit->pad($this->lane)->name ?? 'a group');
    }

    public function touches(): array
    {
        return array_map(fn (string $id): string => 'pattern/'.$id.(null === $this->lane ? '' : '/'.$this->lane), $this->patterns);
    }
}
