<?php

namespace Pestle\Core\Exchange\Midi;

/** A note of a MIDI file, in ticks of 960 to the quarter. */
final readonly class MidiNote
{
    /**
     * @param int $channel  0 to 15; 9 is percussion by the General MIDI standard
     * @param int $velocity 1 to 127
     */
    public function __construct(public int $tick, public int $channel, public int $pitch, public int $velocity, public int $length)
    {
    }
}
