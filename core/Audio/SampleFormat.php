<?php

namespace Pestle\Core\Audio;

/** How a sample value is written in a file. */
enum SampleFormat: string
{
    case Int8 = '8';
    case Int16 = '16';
    case Int24 = '24';
    case Int32 = '32';
    case Float32 = '32f';
    case Float64 = '64f';

    public function bits(): int
    {
        return (int) rtrim($this->value, 'f');
    }

    public function bytes(): int
    {
        return intdiv($this->bits(), 8);
    }

    public function isFloat(): bool
    {
        return self::Float32 === $this || self::Float64 === $this;
    }

    public function label(): string
    {
        return $this->bits().($this->isFloat() ? ' bit float' : ' bit');
    }
}
