<?php

namespace Pestle\App\Page;

use Pestle\App\Entity\Sample;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\Role;
use Pestle\Core\Sample\Edits;

/** Sounds that can be placed over the song: those of the pads, slices, and what of the library is looked for. */
final readonly class SoundsAtHand
{
    /**
     * @param array<string, Sample> $own   by hash, samples of pads and with slices
     * @param list<Sample>          $found first of those that are looked for
     * @param int                   $count how many there are
     */
    public function __construct(private Beat $beat, private array $own, private array $found, public int $count)
    {
    }

    /** @return array<string, list<array{name: string, role: Role, seconds: float, sample: Sample, whole: bool, place: array<string, mixed>}>> by where they are */
    public function groups(): array
    {
        $groups = ['Pads' => $this->pads()];
        foreach (array_keys($this->beat->slices) as $hash) {
            if (isset($this->own[$hash])) {
                $groups['Slices of '.$this->own[$hash]->name] = $this->slices($this->own[$hash]);
            }
        }
        $groups['Library'] = array_map(fn (Sample $s): array => $this->sound($s, $s->name, $s->role(), 0, $this->length($s)), $this->found);

        return array_filter($groups);
    }

    /** @return list<array{name: string, role: Role, seconds: float, sample: Sample, whole: bool, place: array<string, mixed>}> */
    private function pads(): array
    {
        $pads = array_filter($this->beat->kit->pads, fn (Pad $pad): bool => isset($this->own[$pad->main()->sample]));

        return array_map(fn (Pad $pad): array => $this->sound($this->own[$pad->main()->sample], $pad->name, $pad->role, $pad->main()->start, $pad->main()->end), array_values($pads));
    }

    /** @return list<array{name: string, role: Role, seconds: float, sample: Sample, whole: bool, place: array<string, mixed>}> */
    private function slices(Sample $sample): array
    {
        $rows = [];
        foreach ($this->beat->slices[$sample->hash]->regions($this->length($sample)) as $i => [$start, $end]) {
            $rows[] = $this->sound($sample, \sprintf('%s %d', mb_substr($sample->name, 0, 60), $i + 1), $sample->role(), $start, $end);
        }

        return $rows;
    }

    private function length(Sample $sample): int
    {
        return ($this->beat->edits[$sample->hash] ?? new Edits())->length($sample->frames);
    }

    /** @return array{name: string, role: Role, seconds: float, sample: Sample, whole: bool, place: array<string, mixed>} */
    private function sound(Sample $sample, string $name, Role $role, int $from, int $to): array
    {
        return [
            'name' => $name, 'role' => $role, 'seconds' => ($to - $from) / $sample->rate, 'sample' => $sample, 'whole' => 0 === $from && $to >= $sample->frames,
            'place' => ['sample' => $sample->hash, 'name' => mb_substr($name, 0, 80), 'rate' => $sample->rate, 'from' => $from, 'to' => $to],
        ];
    }
}
