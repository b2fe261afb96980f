<?php

namespace Pestle\App\Page;

use Pestle\App\Entity\Sample;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Sample\FadeShape;
use Pestle\Core\Song\Clip;
use Pestle\Core\Song\Marker;
use Pestle\Core\Song\Track;
use Pestle\Core\Theory\TempoMap;

/** What is placed freely over the song: tracks with their clips, markers, and what of them is chosen. */
final readonly class TracksPage
{
    private const COLOURS = ['paprika', 'tide', 'plum', 'clay', 'basil'];
    private const MOST_ROWS = 6;
    /** Places at which the gain of a fade is told. */
    private const FADE_STEPS = 16;

    public ?Clip $clip;
    public ?Marker $marker;
    private TempoMap $time;

    /** @param array<string, Sample> $samples by hash, those that the clips are of */
    public function __construct(private BeatPage $page, private Beat $beat, private array $samples)
    {
        $this->clip = $beat->clips[$page->chosen('clip')] ?? null;
        $this->time = Timeline::song($beat);
        $this->marker = $beat->markers[$page->chosen('marker')] ?? null;
    }

    /** @return list<array{track: Track, colour: string, clips: list<Clip>, rows: array<string, int>, most: int}> clips in the order of time, the row of each, and how many rows there are: what is muted lies below what sounds over it */
    public function rows(): array
    {
        $rows = [];
        foreach (array_values($this->beat->tracks) as $i => $track) {
            $clips = array_values(array_filter($this->beat->clips, static fn (Clip $c): bool => $c->track === $track->id));
            usort($clips, static fn (Clip $a, Clip $b): int => $a->at <=> $b->at);
            $at = $this->stacked($clips);
            $rows[] = ['rows' => $at, 'most' => 1 + max([0, ...array_values($at)]), 'track' => $track, 'colour' => ($this->beat->mixer->nodes[$track->channel] ?? null)->colour ?? self::COLOURS[$i % \count(self::COLOURS)], 'clips' => $clips];
        }

        return $rows;
    }

    /**
     * @param list<Clip> $clips
     *
     * @return array<string, int>
     */
    private function stacked(array $clips): array
    {
        $rows = $ends = [];
        usort($clips, static fn (Clip $a, Clip $b): int => [$a->muted, $a->at] <=> [$b->muted, $b->at]);
        foreach ($clips as $clip) {
            $row = 0;
            // What sounds may overlap what sounds: there it is crossfaded.
            while ($clip->muted && [] !== array_filter($ends[$row] ?? [], fn (array $other): bool => $other[0] < $this->endOf($clip) - 1.0 && $other[1] > $clip->at + 1.0)) {
                ++$row;
            }
            $ends[$row][] = [$clip->at, $this->endOf($clip)];
            $rows[$clip->id] = min($row, self::MOST_ROWS - 1);
        }

        return $rows;
    }

    /** @return list<Marker> in the order of time */
    public function markers(): array
    {
        $markers = array_values($this->beat->markers);
        usort($markers, static fn (Marker $a, Marker $b): int => $a->at <=> $b->at);

        return $markers;
    }

    /** The tick at which the last clip ends. */
    public function end(): int
    {
        return (int) ceil(max([0.0, ...array_map($this->endOf(...), array_values($this->beat->clips))]));
    }

    /** Where it ends, in ticks of the song. */
    public function endOf(Clip $clip): float
    {
        return $clip->end($this->time);
    }

    /** @return array<string, mixed> a clip as it is drawn: times in ticks of the song */
    public function drawn(Clip $clip, int $row = 0): array
    {
        $edits = $this->beat->edits[$clip->sample] ?? new Edits();
        $step = $clip->ticks($this->time) / ($clip->to - $clip->from);
        [$in, $out] = $clip->fades($clip->to - $clip->from);

        return [
            'row' => $row, 'id' => $clip->id, 'name' => $clip->name, 'sample' => $clip->sample, 'edits' => $edits->query(),
            'frames' => max($clip->to, $edits->length($this->samples[$clip->sample]->frames ?? 0)), 'at' => $clip->at, 'from' => $clip->from, 'to' => $clip->to, 'step' => $step,
            'in' => $in * $step, 'out' => $out * $step, 'inShape' => $clip->fadeInShape->value, 'outShape' => $clip->fadeOutShape->value, 'second' => $this->time->after($clip->at, 1.0),
            'tail' => $clip->roomMix > 0.0 ? $this->time->after($clip->at, $clip->roomSeconds) : 0.0, 'tailBefore' => $clip->roomBefore, 'gain' => 10.0 ** ($clip->levelDb / 20.0), 'reversed' => $clip->reversed, 'muted' => $clip->muted,
        ];
    }

    /** @return array<string, list<float>> gain along a fade, by its shape */
    public function fades(): array
    {
        return array_column(array_map(static fn (FadeShape $shape): array => [$shape->value, array_map(static fn (int $i): float => $shape->gain($i / self::FADE_STEPS), range(0, self::FADE_STEPS))], FadeShape::cases()), 1, 0);
    }

    public function sampleOf(Clip $clip): ?Sample
    {
        return $this->samples[$clip->sample] ?? null;
    }

    /** Quarters a minute that its recording has, or that the beat has where nobody knows. */
    public function tempoOf(Clip $clip): float
    {
        $sample = $this->sampleOf($clip);

        return null === $sample || null === $sample->bpm() ? $this->beat->tempo->bpm : $this->page->quarters($sample, false);
    }

    public function isOverlapped(Clip $clip): bool
    {
        foreach ($this->beat->clips as $other) {
            if ($other !== $clip && $other->track === $clip->track && $other->at < $this->endOf($clip) && $other->end($this->time) > $clip->at) {
                return true;
            }
        }

        return false;
    }

    /** Whether the one behind it goes on where it ends. */
    public function isJoinable(Clip $clip): bool
    {
        foreach ($this->beat->clips as $other) {
            if ($other !== $clip && $clip->goesOnIn($other, $this->time)) {
                return true;
            }
        }

        return false;
    }
}
