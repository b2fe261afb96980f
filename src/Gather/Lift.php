<?php

namespace Pestle\App\Gather;

/** a sample with its edits is to become a sample of its own. */
final readonly class Lift extends OwnSample
{
    /** @param string $sound hash of the sample and its edits, as the library calls it */
    public function __construct(string $upload, public string $sound)
    {
        parent::__construct($upload);
    }
}
