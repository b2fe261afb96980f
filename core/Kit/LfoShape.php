<?php

namespace Pestle\Core\Kit;

/** How an LFO moves. */
enum LfoShape: string
{
    case Sine = 'sine';
    case Triangle = 'triangle';
    case Rising = 'rising';
    case Falling = 'falling';
    case Square = 'square';
    case Steps = 'steps';
}
