<?php

namespace Pestle\App\Gather;

use Pestle\App\Queue\UploadJob;
use Pestle\App\Task\Portable;

/** A sample is to be made out of what is there: what a beat plays, or a stretch of another sample. */
abstract readonly class OwnSample extends UploadJob implements Portable
{
    public function title(): string
    {
        return 'Making %s';
    }

    public function task(): string
    {
        return OwnSampleTask::class;
    }
}
