<?php

namespace Pestle\App\Queue;

enum JobState: string
{
    case Waiting = 'waiting';
    case Running = 'running';
    /** Given up after its process ended three times before it was done. */
    case Aside = 'aside';
}
