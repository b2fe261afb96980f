<?php

namespace Pestle\Core\Sample;

/** Where a sample is cut: ascending frames; each slice runs to the next marker, to the end, or to an end of its own. */
final readonly class Slices
{
    public const MAX = 128;

    /**
     * @param list<int>                 $markers
     * @param string                    $how      "hits", "equal", "grid", "file" or "hand": what the markers came from
     * @param array<int, SliceSettings> $settings by the marker they begin at, only where there is something to say
     */
    public function __construct(public array $markers, public string $how = 'hand', public array $settings = [])
    {
    }

    /**
     * So many slices of the same length.
     *
     * @throws \InvalidArgumentException
     */
    public static function equal(int $parts, int $frames): self
    {
        if ($parts < 1 || $parts > min(self::MAX, $frames)) {
            throw new \InvalidArgumentException(\sprintf('A sample can be cut into 1 to %d equal parts.', min(self::MAX, $frames)));
        }

        return new self(array_map(static fn (int $i): int => intdiv($i * $frames, $parts), range(0, $parts - 1)), 'equal');
    }

    /**
     * A slice for each so many beats of a grid, or for a part of each.
     *
     * @param array<int, int> $lines    frame of each beat, as BeatGrid gives them
     * @param float           $division slices a beat: 0.25 for bars, 4 for sixteenths
     *
     * @throws \InvalidArgumentException when there is no line
     */
    public static function onGrid(array $lines, float $division, int $frames): self
    {
        $markers = [];
        foreach ($lines as $beat => $frame) {
            if ($division < 1.0) {
                0 === $beat % (int) round(1.0 / $division) && $markers[] = $frame;
                continue;
            }
            $next = $lines[$beat + 1] ?? $frame + ($frame - ($lines[$beat - 1] ?? 0));
            for ($k = 0; $k < (int) $division; ++$k) {
                $markers[] = (int) round($frame + $k * ($next - $frame) / $division);
            }
        }
        $markers = array_values(array_unique(array_filter($markers, static fn (int $m): bool => $m < $frames)));

        return [] === $markers ? throw new \InvalidArgumentException('No line of the beat grid lies in this sample.') : new self(\array_slice($markers, 0, self::MAX), 'grid');
    }

    /**
     * Start and end of every slice, by the number of its marker.
     *
     * @return array<int, array{int, int}>
     */
    public function regions(int $frames): array
    {
        $regions = [];
        foreach ($this->markers as $i => $start) {
            $end = min($frames, $this->of($i)->end ?? $this->markers[$i + 1] ?? $frames);
            if ($end > $start) {
                $regions[$i] = [$start, $end];
            }
        }

        return $regions;
    }

    /** What is said of a slice, counted from 0. */
    public function of(int $index): SliceSettings
    {
        return $this->settings[$this->markers[$index] ?? -1] ?? new SliceSettings();
    }

    public function saying(int $index, SliceSettings $settings): self
    {
        $all = $this->settings;
        unset($all[$this->markers[$index]]);
        if (!$settings->saysNothing()) {
            $all[$this->markers[$index]] = $settings;
        }
        ksort($all);

        return new self($this->markers, $this->how, $all);
    }

    /** With what was said of slices before: of those at the same place, and of one that was moved. */
    public function keeping(self $before): self
    {
        $settings = array_intersect_key($before->settings, array_flip($this->markers));
        if (\count($before->markers) === \count($this->markers)) {
            foreach (array_diff($this->markers, $before->markers) as $i => $marker) {
                $said = $before->of($i);
                if (!$said->saysNothing()) {
                    $settings[$marker] = null !== $said->end && $said->end <= $marker ? $said->with(['end' => null]) : $said;
                }
            }
        }
        ksort($settings);

        return new self($this->markers, $this->how, $settings);
    }

    /** @return array{markers: list<int>, how: string, settings: list<array<string, mixed>>} */
    public function toArray(): array
    {
        return [
            'markers' => $this->markers,
            'how' => $this->how,
            'settings' => array_map(static fn (int $at, SliceSettings $s): array => ['at' => $at, ...$s->toArray()], array_keys($this->settings), array_values($this->settings)),
        ];
    }
}
