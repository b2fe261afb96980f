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

    public function label(): string
    {
        return ucfirst($this->value);
    }
}
