<?php

namespace Pestle\Core\Exchange;

/** In what else a delivery comes beside its WAVs. */
enum PackedAs: string
{
    case Flac = 'flac';
    case Mp3 = 'mp3';
    case Ogg = 'ogg';

    public function label(): string
    {
        return match ($this) {
            self::Flac => 'FLAC',
            self::Mp3 => 'MP3',
            self::Ogg => 'Ogg',
        };
    }

    /** Whether something of the sound is left out: then only the mix is packed so. */
    public function isLossy(): bool
    {
        return self::Mp3 === $this || self::Ogg === $this;
    }
}
