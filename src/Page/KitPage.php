<?php

namespace Pestle\App\Page;

use Pestle\App\Entity\Sample;
use Pestle\Core\Beat\Change\KitGroup;
use Pestle\Core\Kit\Answer;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\PlayMode;
use Pestle\Core\Mix\InsertKind;
use Pestle\Core\Mix\Node;
use Pestle\Core\Song\Part;

/** What Kit shows of the chosen pads: their sounds on a strip, shape, tone and movement as curves with their numbers, and the settings in hand. */
final readonly class KitPage
{
    use TreatmentChoices;

    /** What the settings in hand belong to. */
    public const GROUPS = ['pad' => 'Pad', 'sound' => 'Sound', 'shape' => 'Shape', 'tone' => 'Tone', 'movement' => 'Movement', 'inserts' => 'Inserts', 'kit' => 'Kit'];

    public TreatmentDrawing $treatment;
    public string $group;
    public Part $part;
    public int $layer;
    /** @var non-empty-list<string> pads that are set together, the one that is shown first */
    public array $ids;

    /**
     * @param array<string, Sample> $samples of its layers, by hash
     * @param array<string, Sample> $ofKit   main ones of all pads of its kit
     */
    public function __construct(private BeatPage $page, public Pad $pad, private array $samples, private array $ofKit)
    {
        $this->treatment = new TreatmentDrawing($pad->treatment, $page->beat->tempo);
        $this->part = $page->beat->part($page->beat->kit->partOf($pad->id) ?? '');
        $group = $page->chosen('group');
        $this->layer = min(\count($pad->layers) - 1, (int) $page->chosen('layer'));
        $this->group = isset(self::GROUPS[$group]) || 'envelope' === $group ? $group : ('' === $page->chosen('layer') ? 'pad' : 'sound');
        $chosen = array_filter(explode(',', $page->chosen('pads')), static fn (string $id): bool => $id !== $pad->id && null !== $page->beat->kit->pad($id));
        $this->ids = [$pad->id, ...array_values($chosen)];
    }

    /** @return array<string, string> */
    public function groups(): array
    {
        return self::GROUPS;
    }

    /** @return list<Answer> */
    public function answers(): array
    {
        return Answer::cases();
    }

    /**
     * @param list<string> $ids
     *
     * @return list<string>
     */
    public function without(array $ids, string $id): array
    {
        return array_values(array_diff($ids, [$id]));
    }

    /** Whether its sound lasts as long as it is held. */
    public function held(): bool
    {
        return PlayMode::Held === $this->pad->mode;
    }

    /** The path under which settings are made: of all pads that are chosen. */
    public function under(string $inside = ''): string
    {
        return implode(' ', array_map(static fn (string $id): string => 'kit/'.$id.('' === $inside ? '' : '/'.$inside), $this->ids));
    }

    /** @return list<array{layer: Layer, index: int, share: float, sample: Sample|null, chosen: bool}> its sounds, and how much of the strip each takes */
    public function strip(): array
    {
        $byStrength = Answer::Strength === $this->pad->answer;
        $strip = [];
        foreach ($this->pad->layers as $i => $layer) {
            $strip[] = [
                'layer' => $layer,
                'index' => $i,
                'share' => $byStrength ? (float) (1 + $layer->high - $layer->low) : 1.0,
                'sample' => $this->samples[$layer->sample] ?? null,
                'chosen' => $i === $this->layer && \count($this->pad->layers) > 1,
            ];
        }

        return $strip;
    }

    /** @return list<array{sample: string, db: float}> how loud its samples are */
    public function levels(): array
    {
        return array_values(array_map(static fn (Sample $s): array => ['sample' => $s->hash, 'db' => $s->lufs() ?? $s->peakDb], $this->samples));
    }

    /** @return list<array{sample: string, db: float}> how loud the main sounds of its kit are */
    public function kitLevels(): array
    {
        return array_values(array_map(static fn (Sample $s): array => ['sample' => $s->hash, 'db' => $s->lufs() ?? $s->peakDb], $this->ofKit));
    }

    /** @return list<InsertKind> */
    public function insertKinds(): array
    {
        return InsertKind::cases();
    }

    /**
     * What inserts can be put on: this pad alone, and the whole kit.
     *
     * @return list<array{name: string, node: Node|null, said: string, make: array<string, string>, makes: string}>
     */
    public function targetsOfInserts(): array
    {
        $beat = $this->page->beat;
        $sharing = array_filter($beat->kit->pads, fn (Pad $p): bool => $p->channel === $this->pad->channel && $p->id !== $this->pad->id);
        $channel = $beat->mixer->nodes[$this->pad->channel] ?? null;

        return [
            ['name' => $this->pad->name.' alone', 'node' => [] === $sharing ? $channel : null, 'said' => \sprintf('it shares the channel %s with %d others', $channel->name ?? '', \count($sharing)), 'make' => ['type' => 'own-channel', 'pad' => $this->pad->id], 'makes' => 'A channel of its own'],
            ['name' => 'All of '.$this->part->name, 'node' => KitGroup::of($beat, $this->part->id), 'said' => 'its channels go different ways', 'make' => ['type' => 'kit-group', 'part' => $this->part->id], 'makes' => 'A group for the whole kit'],
        ];
    }

    /** Pads of its kit. */
    public function count(): int
    {
        $kit = $this->page->beat->kit;

        return \count(array_filter($kit->pads, fn (Pad $p): bool => $kit->partOf($p->id) === $this->part->id));
    }

    public function chosenLayer(): Layer
    {
        return $this->pad->layers[$this->layer];
    }

    /** What its sound was made by, as JSON; null where it is no made drum. */
    public function recipe(): ?string
    {
        $drum = ($this->samples[$this->pad->main()->sample] ?? null)?->corrected('drum');

        return \is_string($drum) ? $drum : null;
    }

    public function sample(): ?Sample
    {
        return $this->samples[$this->chosenLayer()->sample] ?? null;
    }

    /** Frames of the chosen sound's whole sample, with its edits. */
    public function frames(): int
    {
        $sample = $this->sample();
        $edits = $this->page->beat->edits[$this->chosenLayer()->sample] ?? null;

        return null === $sample ? $this->chosenLayer()->end : ($edits?->length($sample->frames) ?? $sample->frames);
    }

    /** @return list<array{id: string, name: string}> other pads of its kit, for what sounds along and what it silences */
    public function others(): array
    {
        $kit = $this->page->beat->kit;
        $others = array_filter($kit->pads, fn (Pad $p): bool => $p->id !== $this->pad->id && $kit->partOf($p->id) === $kit->partOf($this->pad->id));

        return array_values(array_map(static fn (Pad $p): array => ['id' => $p->id, 'name' => $p->name], $others));
    }

    /**
     * Names of pads and notes.
     *
     * @param list<string> $ids
     *
     * @return array<string, string>
     */
    public function named(array $ids): array
    {
        $names = [];
        foreach ($ids as $id) {
            [$source, $pitch] = [...explode('/', $id, 2), ''];
            $part = $this->page->beat->parts[$source] ?? null;
            $names[$id] = null !== $part ? $part->name.' '.$pitch : $this->page->beat->kit->pad($source)->name ?? 'a free place';
        }

        return $names;
    }
}
