<?php

namespace Pestle\Core\Analysis;

/** What kind of drum a hit is. */
enum HitKind: string
{
    case Kick = 'kick';
    case Snare = 'snare';
    case Clap = 'clap';
    case Rim = 'rim';
    case ClosedHat = 'closed hat';
    case OpenHat = 'open hat';
    case Tom = 'tom';
    case Cymbal = 'cymbal';
    case Percussion = 'percussion';
    case Other = 'other';
}
