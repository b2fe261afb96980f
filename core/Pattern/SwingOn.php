<?php

namespace Pestle\Core\Pattern;

use Pestle\Core\Theory\Ticks;

/** Which notes swing moves: the second of each pair of them. */
enum SwingOn: string
{
    case Eighths = 'eighths';
    case Sixteenths = 'sixteenths';

    public function ticks(): int
    {
        return self::Eighths === $this ? 2 * Ticks::PER_STEP : Ticks::PER_STEP;
    }
}
