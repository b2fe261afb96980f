<?php

namespace Pestle\App\Deliver;

/** Work: make the files of a delivery. */
final readonly class Deliver
{
    public function __construct(public int $delivery)
    {
    }
}
