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
 * rounds, so it keeps its feel, and what of a group lies in it.
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
        $goesRound = static fn (Hit|Note $event): bool => $event instanceof Hit && null !== $pattern->lane($event->pad)->ticks;
        $isMeant = static fn (Hit|Note $event): bool => null === $lane || $pattern->feltBy($event) === $lane;
        // Groups of which some have to stay as they are: what is written leaves them, where need be for one that adds nothing.
        $stay = array_flip(array_column(array_filter($pattern->hits, $goesRound), 'group'));
        unset($stay['']);
        $next = null === $lane ? '' : $pattern->nextGroup();
        $write = static function (Hit|Note $event) use ($beat, $pattern, $goesRound, $isMeant, $stay, $next): Hit|Note {
            if ($goesRound($event) || !$isMeant($event)) {
                return $event;
            }
            $written = self::written($beat->feeling($pattern->feelFor($event)), $event, $pattern->ticks);

            return isset($stay[$event->group]) ? $written->feltWith($next) : $written;
        };
        /** @var list<Hit> $hits */
        $hits = array_map($write, $pattern->hits);
        /** @var list<Note> $notes */
        $notes = array_map($write, $pattern->notes);
        $pattern = $pattern->with(['hits' => $hits, 'notes' => $notes]);
        if (null !== $lane && null !== $pattern->lane($lane)->ticks) {
            return $pattern;
        }
        if (null !== $lane) {
            $felt = isset($stay[$lane]) ? $next : $lane;

            return $pattern->withLane($felt, $pattern->lane($felt)->with(['feel' => $felt === $lane && $pattern->feel->isPlain() ? null : new Feel()]));
        }
        $lanes = [];
        foreach ($pattern->lanes as $id => $own) {
            $lanes[$id] = $own->with(['feel' => null === $own->ticks && !isset($stay[$id]) ? null : $own->feel ?? $pattern->feel]);
        }

        return $pattern->with(['feel' => new Feel(), 'lanes' => $lanes]);
    }

    /** @param int $ticks that go round */
    private static function written(Feeling $feeling, Hit|Note $event, int $ticks): Hit|Note
    {
        if ($event->tick >= $ticks) {
            return $event;
        }
        $played = $feeling->played($event);
        $tick = (($played->tick % $ticks) + $ticks) % $ticks;

        $written = $played->later($tick - $played->tick);

        // Whether it happens stays as it was.
        return $event->chance < 100 && $written->tick !== $event->tick ? $written->thrownAt($event->thrown ?? $event->tick) : $written;
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
