<?php

namespace Pestle\App\Gather;

/** Work: an upload is complete and wants to become a sample. */
final readonly class Arrive
{
    public function __construct(public string $upload)
    {
    }
}
