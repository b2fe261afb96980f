<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\RecordedNotes;
use Pestle\Core\Kit\Zone;
use Pestle\Core\Kit\Zones;

/** Gives an instrument recorded notes: each takes the place of those of the same note, and all are shared out over the keys anew. */
final readonly class SetZones implements Change
{
    /** @param non-empty-list<array{Zone, float}> $notes with their peaks in dB */
    private function __construct(private string $part, private array $notes)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('part'), RecordedNotes::read($fields));
    }

    public function apply(Beat $beat): Beat
    {
        $part = $beat->part($this->part);
        $keys = $part->keys ?? throw new InvalidChange('This part is a kit: put sounds on its pads.');
        $new = array_map(static fn (array $n): int => Zones::note($n[0]), $this->notes);
        // Where they are kept, softer recordings stay below harder ones.
        $kept = array_map(static fn (Zone $z): array => [$z, (float) $z->sound->low], array_values(array_filter($keys->zones, static fn (Zone $z): bool => !\in_array(Zones::note($z), $new, true))));

        return $beat->withPart($part->with(['keys' => $keys->with(['zones' => Zones::spread([...$kept, ...$this->notes])])]));
    }

    public function label(Beat $beat): string
    {
        return \sprintf('%d recorded %s in %s', \count($this->notes), 1 === \count($this->notes) ? 'note' : 'notes', $beat->part($this->part)->name);
    }

    public function touches(): array
    {
        return ['part/'.$this->part];
    }
}
