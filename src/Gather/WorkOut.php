<?php

namespace Pestle\App\Gather;

/** Work: a sample's edits take long and are wanted. */
final readonly class WorkOut
{
    public function __construct(public string $sound)
    {
    }
}
