<?php

namespace Pestle\App\Gather;

/** Work: the notes of a sound are wanted, as a single line (1), as chords (4), or as it turns out (0). */
final readonly class FindNotes
{
    public function __construct(public string $sound, public int $voices)
    {
    }

    /** Names the file that keeps what was found. */
    public function name(): string
    {
        return hash('sha256', $this->sound).\sprintf('-%d.notes', $this->voices);
    }
}
