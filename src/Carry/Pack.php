<?php

namespace Pestle\App\Carry;

use Pestle\App\Entity\BeatRecord;
use Pestle\App\Queue\Job;

/** A beat as it is at one head is wanted as one file. */
final readonly class Pack implements Job
{
    public function __construct(public int $beat, public int $head)
    {
    }

    public function key(): string
    {
        return \sprintf('pack %d %d', $this->beat, $this->head);
    }

    public function title(): string
    {
        return 'Packing %s';
    }

    public function about(): array
    {
        return [BeatRecord::class, $this->beat];
    }
}
