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
        return $timing->turns($this->time->isFree() ? $this->rateHz : 1.0 / $this->time->seconds($this->sixteenths, $timing->tempo));
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
