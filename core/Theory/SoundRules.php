<?php

namespace Pestle\Core\Theory;

/**
 * By which rules a beat becomes sound. One that was made by earlier ones keeps them until its maker wishes otherwise, so that
 * it goes on sounding as it did; docs/decisions/28 says what differs.
 */
enum SoundRules: int
{
    case First = 1;
    case Second = 2;

    public const NEWEST = self::Second;

    public function areNewest(): bool
    {
        return self::NEWEST === $this;
    }
}
