<?php

namespace Pestle\App\Live;

use Pestle\App\Gather\OwnSample;

/** Bars of what is performed are to become a sample, going round. */
final readonly class CatchLive extends OwnSample
{
    /**
     * @param list<array<string, mixed>> $choices the performance as it was when this was asked for, as it is kept
     * @param int                        $from    tick
     * @param int                        $to      tick
     * @param bool                       $wet     whether through the mixer
     */
    public function __construct(string $upload, public int $beat, public int $head, public array $choices, public int $from, public int $to, public bool $wet)
    {
        parent::__construct($upload);
    }
}
