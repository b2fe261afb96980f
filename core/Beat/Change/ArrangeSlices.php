<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Feel;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Sample\Slices;
use Pestle\Core\Song\Section;

/**
 * Writes a pattern that plays slices one after the other in an order of the maker's own, each as long as it is, and a
 * section beside the song to hear it in.
 * Slices that are not on pads yet get there first.
 */
final readonly class ArrangeSlices implements Change
{
    private const MOST = 256;

    /** @param list<int> $order slices, counted from 0 */
    private function __construct(private Fields $fields, private string $sample, private string $name, private int $frames, private int $sampleRate, private array $order)
    {
    }

    public static function from(Fields $fields): self
    {
        $order = $fields->wholes('order', self::MOST, Slices::MAX - 1);
        if ([] === $order) {
            throw InvalidChange::field('order', 'must name at least one slice.');
        }

        return new self($fields, $fields->hash('sample'), $fields->text('name'), $fields->frame('frames', 1), $fields->whole('rate', 1000, 768000), $order);
    }

    public function apply(Beat $beat): Beat
    {
        $regions = ($beat->slices[$this->sample] ?? null)?->regions($this->frames) ?? [];
        $pads = $this->pads($beat, $regions);
        if (\count(array_intersect_key($pads, array_flip($this->order))) < \count(array_unique($this->order))) {
            // Only its pads are wanted here, not the pattern that plays it as it was.
            $beat = SlicesToPads::from($this->fields->without('order')->with('replay', false))->apply($beat);
            $pads = $this->pads($beat, $regions);
        }
        $hits = [];
        $tick = 0.0;
        foreach ($this->order as $index) {
            [$start, $end] = $regions[$index] ?? throw InvalidChange::field('order', \sprintf('names slice %d; there are %d.', $index + 1, \count($regions)));
            $length = max(1.0, $beat->tempo->exactTicks(($end - $start) / $this->sampleRate));
            $hits[] = Hit::finely($tick, $pads[$index], 127, $length);
            $tick += $length;
        }
        $bars = max(1, (int) ceil($tick / $beat->meter->barTicks() - 0.02));
        if ($bars > Pattern::MAX_BARS) {
            throw new InvalidChange(\sprintf('That would be %d bars; a pattern has at most %d. Use fewer slices.', $bars, Pattern::MAX_BARS));
        }

        $part = $beat->kit->partOf($hits[0]->pad) ?? $beat->firstKit()->id;
        $pattern = Pattern::of($beat->nextPatternId(), mb_substr($this->name, 0, 60).' rearranged', $part, $bars * $beat->meter->barTicks(), new Feel(), $hits);

        return $beat->withPattern($pattern)->withSection(new Section($beat->nextSectionId(), $pattern->name, [$part => $pattern->id]));
    }

    /**
     * @param array<int, array{int, int}> $regions
     *
     * @return array<int, string> id of the pad that plays a slice, where there is one
     */
    private function pads(Beat $beat, array $regions): array
    {
        $found = [];
        foreach ($beat->kit->pads as $pad) {
            $index = $pad->main()->sample === $this->sample ? array_search([$pad->main()->start, $pad->main()->end], $regions, true) : false;
            if (\is_int($index)) {
                $found[$index] ??= $pad->id;
            }
        }

        return $found;
    }

    public function label(Beat $beat): string
    {
        return $this->name.' rearranged';
    }

    public function touches(): array
    {
        return ['kit', 'pattern/new', 'section/new', 'mixer/new', 'slices/'.$this->sample, 'tempo'];
    }
}
