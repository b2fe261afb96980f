<?php

namespace Pestle\App\Queue;

use Symfony\Component\Messenger\Stamp\StampInterface;

/** Says what a job is called where jobs are listed. */
final readonly class Titled implements StampInterface
{
    public function __construct(public string $title)
    {
    }
}
