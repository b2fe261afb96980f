<?php

namespace Pestle\App\Deliver;

use Pestle\App\Entity\Delivery;
use Pestle\App\Task\Portable;

/** The files of a delivery are to be made. */
final readonly class Deliver implements Portable
{
    public function __construct(public int $delivery)
    {
    }

    public function key(): string
    {
        return 'delivery '.$this->delivery;
    }

    public function title(): string
    {
        return 'Delivering %s';
    }

    public function task(): string
    {
        return DeliverTask::class;
    }

    public function about(): array
    {
        return [Delivery::class, $this->delivery];
    }
}
