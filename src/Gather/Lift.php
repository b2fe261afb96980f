<?php

namespace Pestle\App\Gather;

/** Work: a sample with its edits is to become a sample of its own. */
final readonly class Lift
{
    /** @param string $sound hash of the sample and its edits, as the library calls it */
    public function __construct(public string $upload, public string $sound)
    {
    }
}
