<?php

namespace Pestle\Core\Mix;

/** What a compressor takes for how loud a sound is. */
enum Detector: string
{
    case Peak = 'peak';
    /** Mean power: nearer to what the ear takes for loud. */
    case Rms = 'rms';
}
