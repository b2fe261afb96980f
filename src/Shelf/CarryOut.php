<?php

namespace Pestle\App\Shelf;

use Pestle\App\Entity\ShelvedKit;
use Pestle\App\Queue\Job;

/** A version of a kit or an instrument is wanted as a zip. */
final readonly class CarryOut implements Job
{
    public function __construct(public int $kit, public int $version)
    {
    }

    public function key(): string
    {
        return 'kit out '.$this->version;
    }

    public function title(): string
    {
        return 'Packing %s';
    }

    public function about(): array
    {
        return [ShelvedKit::class, $this->kit];
    }
}
