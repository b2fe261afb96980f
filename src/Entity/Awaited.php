<?php

namespace Pestle\App\Entity;

/** What a job of the background is about. */
interface Awaited
{
    public function called(): string;

    /** No job will come to it any more. @param bool $asWished whether its maker wanted that */
    public function giveUp(string $why, bool $asWished): void;
}
