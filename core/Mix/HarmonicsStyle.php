<?php

namespace Pestle\Core\Mix;

/** Of what overtones are made. */
enum HarmonicsStyle: string
{
    /** Of what lies above: air and edge. */
    case Bright = 'highs';
    /** Of what lies below: a bass that small speakers tell. */
    case Deep = 'lows';
}
