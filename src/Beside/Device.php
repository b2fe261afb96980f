<?php

namespace Pestle\App\Beside;

/** Something that stands beside Pestle: it speaks MIDI, may sound, and does what is typed at it. Moments are milliseconds of its own clock. */
interface Device
{
    /** "clock", "module" or "controller". */
    public function kind(): string;

    /** What came from a page, to be done at a moment. */
    public function receive(string $midi, float $at): void;

    /**
     * Does what is typed at it.
     *
     * @return string what it answers
     *
     * @throws \InvalidArgumentException when it knows no such thing
     */
    public function typed(string $command): string;

    /** Does all that is due; gives the moment at which more is. */
    public function turn(float $now, Outlet $out): float;
}
