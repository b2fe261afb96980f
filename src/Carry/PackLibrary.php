<?php

namespace Pestle\App\Carry;

use Pestle\App\Queue\Job;

/** All beats, samples, kits and grooves are wanted as one file, as they are when it is packed. */
final readonly class PackLibrary implements Job
{
    /** @param int $asked when it was asked for, in seconds since 1970: asked for later it is packed anew */
    public function __construct(public int $asked)
    {
    }

    public function key(): string
    {
        // However often it is asked for, one is packed at a time.
        return 'pack library';
    }

    public function title(): string
    {
        return 'Packing the library';
    }

    public function about(): ?array
    {
        return null;
    }
}
