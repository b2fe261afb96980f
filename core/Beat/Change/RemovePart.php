<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Entry;
use Pestle\Core\Song\Section;

/** Takes a part out of the beat: its sounds, its patterns, and the channels that nothing else feeds. */
final readonly class RemovePart implements Change
{
    private function __construct(private string $part)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('part'));
    }

    public function apply(Beat $beat): Beat
    {
        $part = $beat->part($this->part);
        $parts = array_diff_key($beat->parts, [$part->id => true]);
        if ([] === $parts) {
            throw new InvalidChange('A beat keeps at least one part.');
        }

        return $beat->with([
            'parts' => $parts,
            'kit' => $part->isKit() ? $beat->kit->withoutPart($part->id) : $beat->kit,
            'patterns' => array_filter($beat->patterns, static fn (Pattern $p): bool => $p->part !== $part->id),
            'song' => array_map(static fn (Entry $e): Entry => $e->with(['muted' => array_values(array_diff($e->muted, [$part->id])), 'fixed' => array_values(array_diff($e->fixed, [$part->id]))]), $beat->song),
            'sections' => array_map(static fn (Section $s): Section => $s->withCell($part->id, null)->with(['muted' => array_values(array_diff($s->muted, [$part->id]))]), $beat->sections),
        ])->withoutUnusedChannels();
    }

    public function label(Beat $beat): string
    {
        return 'Delete '.$beat->part($this->part)->name;
    }

    public function touches(): array
    {
        return ['part/'.$this->part, 'kit', 'pattern', 'section', 'song', 'mixer'];
    }
}
