<?php

namespace Pestle\Core\Exchange;

/** The files of a delivery: the mix first, then the stems. */
final readonly class Delivered
{
    /**
     * @param non-empty-list<string> $paths
     * @param list<string>           $clipped names of stems that were above full scale and were cut to it
     */
    public function __construct(public array $paths, public int $frames, public array $clipped)
    {
    }
}
