<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Tempo;

/** How an insert is set: what shapes the sound of a line of the mixer, one after another. */
interface InsertSettings extends Settable
{
    /** How long filters and followers remember. */
    public const USUAL_SECONDS = 4.0;

    /** Its name among the inserts of its line. */
    public function id(): string;

    public function kind(): InsertKind;

    /** Whether it changes the sound. */
    public function acts(): bool;

    /** The line whose sound steers it instead of its own. */
    public function key(): ?string;

    /** @param string|null $key null for its own sound; what cannot be steered stays as it is */
    public function steeredBy(?string $key): static;

    /** Whether what it does depends on the tempo or on when it does it. */
    public function goesByTime(): bool;

    /** How long it is heard after its sound has ended, until nothing of it is left on the grid. */
    public function seconds(Tempo $tempo): float;

    /** Whether what comes out of a sum is the sum of what comes out of its parts. */
    public function isLinear(): bool;

    /** Frames by which its sound comes late, because it looks ahead. */
    public function lateFrames(float $sampleRate): int;

    /** How much of what it makes is heard, 0 to 1, where it does not see to that itself. */
    public function share(): float;

    public function insert(Timing $timing): Insert;

    /** @return array<string, mixed> */
    public function toArray(): array;
}
