<?php

namespace Pestle\App\Gather;

/** Work: a sample is in the library and wants to be listened to. */
final readonly class Listen
{
    public function __construct(public string $sample)
    {
    }
}
