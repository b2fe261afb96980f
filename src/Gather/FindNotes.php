<?php

namespace Pestle\App\Gather;

use Pestle\App\Queue\SoundJob;

/** the notes of a sound are wanted, as a single line (1), as chords (4), or as it turns out (0). */
final readonly class FindNotes extends SoundJob
{
    public function __construct(string $sound, public int $voices)
    {
        parent::__construct($sound);
    }

    public function key(): string
    {
        return 'notes '.$this->name();
    }

    public function title(): string
    {
        return 'Finding the notes of %s';
    }

    /** Names the file that keeps what was found. */
    public function name(): string
    {
        return hash('sha256', $this->sound).\sprintf('-%d.notes', $this->voices);
    }
}
