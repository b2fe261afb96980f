<?php

namespace Pestle\App\Gather;

use Pestle\App\Queue\SoundJob;
use Pestle\App\Task\Portable;

/** A sample is in the library and wants to be listened to. */
final readonly class Listen extends SoundJob implements Portable
{
    public function key(): string
    {
        return 'sample '.$this->sound;
    }

    public function title(): string
    {
        return 'Listening to %s';
    }

    public function task(): string
    {
        return ListenTask::class;
    }
}
