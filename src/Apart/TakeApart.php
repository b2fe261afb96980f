<?php

namespace Pestle\App\Apart;

use Pestle\App\Queue\SoundJob;
use Pestle\App\Task\Portable;

/** A recording is to be taken apart into drums, bass, melody and voice. */
final readonly class TakeApart extends SoundJob implements Portable
{
    public function key(): string
    {
        return 'apart '.$this->sound;
    }

    public function title(): string
    {
        return 'Taking %s apart';
    }

    public function task(): string
    {
        return TakeApartTask::class;
    }
}
