<?php

namespace Pestle\App\Page;

use Pestle\App\Entity\Sample;
use Pestle\Core\Kit\Answer;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Zone;
use Pestle\Core\Song\Part;

/** What Kit shows of an instrument: its recorded notes from low to high, shape, tone and movement, and the settings in hand. */
final readonly class KeysPage
{
    use TreatmentChoices;

    public const GROUPS = ['keys' => 'Keys', 'zone' => 'Recorded note', 'shape' => 'Shape', 'tone' => 'Tone', 'movement' => 'Movement'];

    public TreatmentDrawing $treatment;
    public string $group;
    public int $zone;

    /** @param array<string, Sample> $samples by hash */
    public function __construct(private BeatPage $page, public Part $part, public Keys $keys, private array $samples)
    {
        $this->treatment = new TreatmentDrawing($keys->treatment, $page->beat->tempo);
        $this->zone = max(0, min(\count($keys->zones) - 1, (int) $page->chosen('layer')));
        $group = $page->chosen('group');
        $this->group = isset($this->groups()[$group]) || 'envelope' === $group ? $group : ('' === $page->chosen('layer') || [] === $keys->zones ? 'keys' : 'zone');
    }

    /** @return array<string, string> */
    public function groups(): array
    {
        return [] === $this->keys->zones ? array_diff_key(self::GROUPS, ['zone' => true]) : self::GROUPS;
    }

    public function under(string $inside = ''): string
    {
        return 'part/'.$this->part->id.('' === $inside ? '' : '/'.$inside);
    }

    public function held(): bool
    {
        return $this->keys->lastsAsHeld();
    }

    /** The recorded note that is chosen; none where the instrument is only made. */
    public function chosen(): ?Zone
    {
        return $this->keys->zones[$this->zone] ?? null;
    }

    public function sample(): ?Sample
    {
        return $this->samples[$this->chosen()?->sound->sample] ?? null;
    }

    /** Frames of the chosen note's whole sample, with its edits. */
    public function frames(): int
    {
        $sample = $this->sample();
        $edits = $this->page->beat->edits[$this->chosen()?->sound->sample] ?? null;

        return null === $sample ? $this->chosen()->sound->end ?? 1 : ($edits?->length($sample->frames) ?? $sample->frames);
    }

    /** @return list<Answer> */
    public function answers(): array
    {
        return Answer::cases();
    }
}
