<?php

namespace Pestle\Core\Mix;

/** Where a group's or the master's level lies: what comes before the compressor also decides how far it acts. */
enum FaderPlace: string
{
    case Before = 'before';
    case After = 'after';
}
