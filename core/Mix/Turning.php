<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;

/**
 * PlainInsert for what moves round and round: by itself (Hz) or by the beat (sixteenths, straight, dotted or as triplets).
 * Where it is, is a function of the frame that is played, so that it is the same wherever playing begins.
 */
trait Turning
{
    use PlainInsert;

    public function goesByTime(): bool
    {
        return true;
    }

    /** Turns a frame. */
    public function turns(Timing $timing): float
    {
        if (!$this->goesByTempo($timing)) {
            return $timing->turns($this->time->isFree() ? $this->rateHz : 1.0 / $this->time->seconds($this->sixteenths, $timing->tempo));
        }

        return $this->turnsATick($timing) * ($timing->moving->ticksAFrame ?? 0.0);
    }

    /** Where in a turn it is at frame 0, so that where the tempo moves it is where it is by the ticks. */
    public function phase(Timing $timing): float
    {
        if (null === $timing->moving || !$this->goesByTempo($timing)) {
            return 0.0;
        }
        $phase = fmod($timing->moving->tick * $this->turnsATick($timing) - $timing->moving->frame * $this->turns($timing), 1.0);

        return $phase < 0.0 ? $phase + 1.0 : $phase;
    }

    /** Whether it turns by the beat while the tempo moves. */
    private function goesByTempo(Timing $timing): bool
    {
        return null !== $timing->moving && !$this->time->isFree();
    }

    /** In a loop a whole number of turns, so that it meets its start. */
    private function turnsATick(Timing $timing): float
    {
        $ticks = $timing->tempo->exactTicks($this->time->seconds($this->sixteenths, $timing->tempo));
        $loop = $timing->moving?->loopTicks;

        return null === $loop ? 1.0 / $ticks : max(1.0, round($loop / $ticks)) / $loop;
    }

    /** @return array<string, Parameter> */
    private static function rates(float $hz, float $most): array
    {
        return [
            'time' => Parameter::choice('Time', NoteLength::Free),
            'rateHz' => Parameter::number('Free rate', 'Hz', 0.02, $most, $hz, 0.01, 2)->bent(2.5)->settled('its waves are counted from the start.'),
            'sixteenths' => Parameter::whole('Sixteenths', '', 1, 64, 8),
        ];
    }
}
