<?php

namespace Pestle\App\Task;

use Pestle\App\Queue\Job;

/** A job whose work needs no database, so that any machine can do it. */
interface Portable extends Job
{
    /** @return class-string<Task<*>> who knows how it is done */
    public function task(): string;
}
