<?php

namespace Pestle\Core\Synth;

use Pestle\Core\Kit\Keys;

/** A sound of the shelf: what it is called, what it is for, what it is good for in a line, and how it is made. */
final readonly class ShelfSound
{
    public function __construct(public string $id, public string $name, public string $use, public string $about, public Keys $keys)
    {
    }
}
