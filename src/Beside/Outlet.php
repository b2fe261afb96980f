<?php

namespace Pestle\App\Beside;

/** The sockets of a device: what it says goes to every page that listens. */
interface Outlet
{
    /** MIDI as it is sent at a moment. */
    public function midi(string $bytes, float $at): void;

    /**
     * Sound at its output.
     *
     * @param int         $frame   that it begins with, of all since it was switched on
     * @param list<float> $samples mono, 44,100 a second
     */
    public function sound(int $frame, float $at, array $samples): void;

    /** Whether a page listens to its sound. */
    public function isHeard(): bool;

    /** Tells who sits at it. */
    public function say(string $line): void;
}
