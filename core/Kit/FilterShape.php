<?php

namespace Pestle\Core\Kit;

/** What a sound's filter lets through. */
enum FilterShape: string
{
    case Off = 'off';
    case Low = 'low-pass';
    case High = 'high-pass';
    case Band = 'band-pass';
    case Notch = 'notch';
    /** The formants of a vowel: a at a cut-off of 250 Hz, and an octave higher each e, i, o and u. */
    case Vowel = 'vowel';

    public function label(): string
    {
        return ucfirst($this->value);
    }
}
