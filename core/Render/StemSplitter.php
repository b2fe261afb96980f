<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Mix\Gain;
use Pestle\Core\Mix\GainCurve;
use Pestle\Core\Mix\InsertState;
use Pestle\Core\Mix\Late;
use Pestle\Core\Mix\Master;

/**
 * Follows each stem through the lines of the mixer, beside the mix. Into a line goes a set of parts that add up to what
 * the mix puts in; out of each of its ways comes such a set again: part k is what the line makes of the first k parts,
 * less what it makes of the first k - 1, and the last one what is missing from the whole (see Telescope).
 */
final class StemSplitter
{
    /** @var array<string, list<string>> by line: the stems that reach it, in a fixed order */
    private array $reach = [];
    /** @var array<string, array<int, list<InsertState>>> by line: state of filters for the first k parts */
    private array $states = [];

    /** @var array<string, array{list<float>, list<float>}> by line, way and stem: what waits, left and right */
    private array $waiting = [];

    /** @param array<string, string> $stems name of the stem of every source, and of returns that are stems of their own */
    public function __construct(private readonly VoiceRenderer $voices, private readonly Routing $routing, private readonly Lines $lines, private readonly Waits $waits, private readonly array $stems)
    {
        foreach ($routing->order as $id) {
            $own = array_map($this->stemOf(...), $routing->sources[$id] ?? []);
            foreach ($routing->feeds[$id] ?? [] as [$from]) {
                array_push($own, ...isset($stems[$from]) ? [$stems[$from]] : $this->reach[$from]);
            }
            $this->reach[$id] = array_values(array_unique($own));
        }
    }

    /**
     * @param array<string, Line>     $lines
     * @param array<string, Rendered> $rendered before their faders
     *
     * @return array<string, StereoBlock> by stem, before the limiter
     */
    public function split(Segment $segment, array $lines, array $rendered): array
    {
        $ways = [];
        foreach ($this->routing->order as $id) {
            $sums = isset($this->stems[$id])
                ? [$this->stems[$id] => $rendered[$id]->block()]
                : $this->through($id, $lines[$id], $segment, $rendered[$id], $this->parts($id, $segment, $ways));
            foreach (['' => $lines[$id]->fader, ...$lines[$id]->sends] as $way => $fader) {
                $ways[$id][$way] = self::differences(array_map($fader->apply(...), $sums));
            }
        }

        return $ways[Master::ID][''] ?? [];
    }

    /**
     * What goes into a line, by stem: together exactly what the mix puts in.
     *
     * @param array<string, array<string, array<string, StereoBlock>>> $ways by line, by the return a send goes to or "", by stem
     *
     * @return array<string, StereoBlock>
     */
    private function parts(string $id, Segment $segment, array $ways): array
    {
        $blocks = array_fill_keys($this->reach[$id], []);
        foreach ($this->routing->sources[$id] ?? [] as $source) {
            $block = $this->voices->render($segment->voices[$source] ?? [], $segment->frames);
            if (null !== $block) {
                $blocks[$this->stemOf($source)][] = $block;
            }
        }
        if ($this->waits->frames($id, 'voices') > 0) {
            foreach ($blocks as $stem => $own) {
                $blocks[$stem] = [$this->later($id, 'voices', (string) $stem, Gain::sum($own, $segment->frames))];
            }
        }
        foreach ($this->routing->feeds[$id] ?? [] as [$from, $send]) {
            foreach ($ways[$from][$send] as $stem => $block) {
                $blocks[$stem][] = $this->later($id, Waits::from($from, $send), (string) $stem, $block);
            }
        }

        return array_map(static fn (array $parts): StereoBlock => Gain::sum($parts, $segment->frames), $blocks);
    }

    private function later(string $id, string $way, string $stem, StereoBlock $block): StereoBlock
    {
        $frames = $this->waits->frames($id, $way);
        if (0 === $frames) {
            return $block;
        }
        $name = implode("\n", [$id, $way, $stem]);
        [$left, $right] = $this->waiting[$name] ?? [array_fill(0, $frames, 0.0), array_fill(0, $frames, 0.0)];
        [$sound, $left, $right] = Late::wait($block, $frames, $left, $right);
        $this->waiting[$name] = [$left, $right];

        return $sound;
    }

    /**
     * What the inserts make of the first part, of the first two, and so on.
     *
     * @param array<string, StereoBlock> $parts
     *
     * @return array<string, StereoBlock> by the stem that came last
     */
    private function through(string $id, Line $line, Segment $segment, Rendered $whole, array $parts): array
    {
        $gains = \count($parts) > 1 ? array_map(static fn (GainCurve $curve): array => $curve->expand($segment->frames), $whole->curves) : [];
        $sum = null;
        $out = [];
        $last = array_key_last($parts);
        foreach (array_keys($parts) as $k => $stem) {
            if ($stem === $last) {
                $out[$stem] = $whole->block();
                break;
            }
            $sum = null === $sum ? $parts[$stem] : Gain::sum([$sum, $parts[$stem]], $segment->frames);
            $this->states[$id][$k] ??= $this->lines->still($id)->inserts->rest();
            [$out[$stem], $this->states[$id][$k]] = $line->inserts->part($line->before->apply($sum), $this->states[$id][$k], $gains, $segment->start);
        }

        return $out;
    }

    /**
     * @param array<string, StereoBlock> $sums
     *
     * @return array<string, StereoBlock>
     */
    private static function differences(array $sums): array
    {
        $before = null;
        $parts = [];
        foreach ($sums as $stem => $sum) {
            $parts[$stem] = null === $before ? $sum : Gain::difference($sum, $before);
            $before = $sum;
        }

        return $parts;
    }

    private function stemOf(string $source): string
    {
        return $this->stems[$source] ?? 'Other';
    }
}
