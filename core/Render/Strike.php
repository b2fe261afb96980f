<?php

namespace Pestle\Core\Render;

use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Pad;

/** A hit or a note at the frame at which it is struck, and who silences whom. */
final readonly class Strike
{
    /**
     * @param string       $source   id of the pad, or of the part that is played on keys
     * @param list<string> $silences names: a sound ends where the next strike has one of its names
     */
    public function __construct(public int $frame, public string $source, public Pad|Keys $sound, public array $silences, public int $velocity, public float $ticks, public int $pitch = 0)
    {
    }
}
