<?php

namespace Pestle\App\Gather;

use Pestle\App\Queue\SoundJob;

/** A sample is in the library and wants to be listened to. */
final readonly class Listen extends SoundJob
{
    public function key(): string
    {
        return 'sample '.$this->sound;
    }

    public function title(): string
    {
        return 'Listening to %s';
    }
}
