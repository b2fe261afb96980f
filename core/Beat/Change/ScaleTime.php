<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Kit;
use Pestle\Core\Kit\Lfo;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\Treatment;
use Pestle\Core\Mix\Mixer;
use Pestle\Core\Mix\NoteLength;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Lane;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Clip;
use Pestle\Core\Song\Marker;
use Pestle\Core\Song\Movement;
use Pestle\Core\Song\Part;
use Pestle\Core\Song\Section;
use Pestle\Core\Theory\Curve;
use Pestle\Core\Theory\Tempo;

/** Twice or half the tempo with everything moved along: it sounds as before, but for what is left to chance, and is written in twice or half as many beats. */
final readonly class ScaleTime implements Change
{
    private function __construct(private float $factor)
    {
    }

    public static function from(Fields $fields): self
    {
        $factor = $fields->number('factor', 0.5, 2.0);
        if (!\in_array($factor, [0.5, 2.0], true)) {
            throw InvalidChange::field('factor', 'must be 0.5 or 2.');
        }

        return new self($factor);
    }

    public function apply(Beat $beat): Beat
    {
        $bpm = $beat->tempo->bpm * $this->factor;
        if ($bpm < Tempo::SLOWEST || $bpm > Tempo::MAX) {
            throw new InvalidChange(\sprintf('The tempo would be %s BPM; it lies between %d and %d.', $bpm, Tempo::SLOWEST, Tempo::MAX));
        }

        return $beat->with([
            'tempo' => Tempo::bpm($bpm),
            'kit' => Kit::of($beat->kit->banks, array_map(fn (Pad $p): Pad => $p->with(['treatment' => $this->treatment($p->treatment)]), $beat->kit->pads)),
            'parts' => array_map(fn (Part $p): Part => null === $p->keys ? $p : $p->with(['keys' => $p->keys->with(['treatment' => $this->treatment($p->keys->treatment)])]), $beat->parts),
            'patterns' => array_map(fn (Pattern $p): Pattern => $this->pattern($beat, $p), $beat->patterns),
            'sections' => array_map(fn (Section $s): Section => null === $s->ticks ? $s : $s->with(['ticks' => (int) round($s->ticks * $this->factor)]), $beat->sections),
            'clips' => array_map(fn (Clip $c): Clip => $c->with(['at' => (int) round($c->at * $this->factor), 'bpm' => min(Tempo::MAX, $c->bpm * $this->factor)]), $beat->clips),
            'markers' => array_map(fn (Marker $m): Marker => $m->at((int) round($m->at * $this->factor)), $beat->markers),
            'mixer' => $this->mixer($beat->mixer),
            'movements' => $beat->movements->each($this->movement(...)),
        ]);
    }

    private function movement(Movement $movement): Movement
    {
        $curve = $movement->curve->scaled($this->factor);
        if (Movement::TEMPO === $movement->path) {
            $tempi = array_column($curve->points, 1);
            if ($this->factor * min($tempi) < Tempo::SLOWEST || $this->factor * max($tempi) > Tempo::MAX) {
                throw new InvalidChange(\sprintf('The tempo moves to where it would leave %d to %d BPM.', Tempo::SLOWEST, Tempo::MAX));
            }
            $curve = new Curve(array_map(fn (array $p): array => [$p[0], $p[1] * $this->factor, $p[2]], $curve->points));
        }

        return $movement->with(['curve' => $curve]);
    }

    /** What moves in time goes on as fast as it did. */
    private function treatment(Treatment $treatment): Treatment
    {
        $lfo = fn (Lfo $lfo): Lfo => 0 === $lfo->ticks ? $lfo : $lfo->with(['ticks' => max(1, min((int) Lfo::parameters()['ticks']->most, (int) round($lfo->ticks * $this->factor)))]);

        return $treatment->withPart('lfo1', $lfo($treatment->lfo1))->withPart('lfo2', $lfo($treatment->lfo2));
    }

    private function mixer(Mixer $mixer): Mixer
    {
        foreach ([...array_values($mixer->nodes), $mixer->master] as $line) {
            foreach ($line->inserts as $insert) {
                ['time' => $time, 'sixteenths' => $sixteenths] = $insert->settings() + ['time' => null, 'sixteenths' => null];
                if ($time instanceof NoteLength && !$time->isFree() && \is_int($sixteenths)) {
                    [$time, $sixteenths] = $time->scaled($sixteenths, $this->factor, (int) $insert::parameters()['sixteenths']->most);
                    $line = $line->withInsert($insert->with(['time' => $time, 'sixteenths' => $sixteenths]));
                }
            }
            $mixer = $mixer->withLine($line);
        }

        return $mixer;
    }

    /** The feel moves sixteenths, which are others now: it is written into the hits and notes. */
    private function pattern(Beat $beat, Pattern $pattern): Pattern
    {
        $scaled = fn (Hit|Note $event): Hit|Note => $event->placed((int) round(($event->tick * Hit::FINE + $event->fine) * $this->factor), $event->velocity, $event->lengthTicks() * $this->factor);
        $pattern = WriteFeel::into($beat, $pattern, null);
        /** @var list<Hit> $hits */
        $hits = array_map($scaled, $pattern->hits);
        /** @var list<Note> $notes */
        $notes = array_map($scaled, $pattern->notes);
        $lanes = array_map(fn (Lane $lane): Lane => null === $lane->ticks ? $lane : $lane->with(['ticks' => max(1, (int) round($lane->ticks * $this->factor))]), $pattern->lanes);

        return $pattern->with(['ticks' => max(1, (int) round($pattern->ticks * $this->factor)), 'hits' => $hits, 'notes' => $notes, 'lanes' => $lanes]);
    }

    public function label(Beat $beat): string
    {
        return \sprintf('%s in %s as many beats', $beat->name, $this->factor > 1.0 ? 'twice' : 'half');
    }

    public function touches(): array
    {
        return ['tempo', 'kit', 'part', 'pattern', 'section', 'mixer', 'curve', 'clip', 'marker'];
    }
}
