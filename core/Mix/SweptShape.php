<?php

namespace Pestle\Core\Mix;

/** What a filter of the mixer does to a sound. */
enum SweptShape: string
{
    case Off = 'off';
    case Low = 'low-pass';
    case High = 'high-pass';
    case Band = 'band-pass';
    case Notch = 'notch';
    /** Repeats of itself so near that they ring at one note. */
    case Comb = 'comb';
    /** As a mouth shapes it. */
    case Formant = 'formant';
}
