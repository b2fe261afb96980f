<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Settable;

/** How an insert is set: what shapes the sound of a line of the mixer, one after another. */
interface InsertSettings extends Settable
{
    public const KINDS = [EqualizerSettings::KIND, CompressorSettings::KIND];

    /** Its name among the inserts of its line. */
    public function id(): string;

    /** What it is: "equalizer", "compressor". */
    public function kind(): string;

    /** Whether it changes the sound. */
    public function acts(): bool;

    /** The line whose sound steers it instead of its own. */
    public function key(): ?string;

    /** @param string|null $key null for its own sound; what cannot be steered stays as it is */
    public function steeredBy(?string $key): static;

    /** @return array<string, mixed> */
    public function toArray(): array;
}
