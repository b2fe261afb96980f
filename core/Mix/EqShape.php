<?php

namespace Pestle\Core\Mix;

enum EqShape: string
{
    case HighPass = 'high-pass';
    case LowShelf = 'low-shelf';
    case Peak = 'peak';
    case HighShelf = 'high-shelf';
    case LowPass = 'low-pass';

    public function isPass(): bool
    {
        return self::HighPass === $this || self::LowPass === $this;
    }

    public function label(): string
    {
        return ucfirst(str_replace('-', ' ', $this->value));
    }
}
