<?php

namespace Pestle\Core\Exchange;

/** How loud a delivery is to be. */
enum LevelKind: string
{
    case AsMixed = 'as-mixed';
    /** Its highest true peak lies at a level. */
    case Peak = 'peak';
    /** All of it is as loud as asked for. */
    case Loudness = 'loudness';
}
