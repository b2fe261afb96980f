<?php

namespace Pestle\App\Gather;

use Pestle\App\Queue\SoundJob;

/** A sample's edits take long and are wanted. */
final readonly class WorkOut extends SoundJob
{
    public function key(): string
    {
        return 'edits '.$this->sound;
    }

    public function title(): string
    {
        return 'Working out the edits of %s';
    }
}
