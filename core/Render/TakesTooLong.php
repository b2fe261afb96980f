<?php

namespace Pestle\Core\Render;

/** The engine did not answer within the time a question has: it is busy, or the machine is slow. What was worked out stays: who asks again goes on. */
final class TakesTooLong extends \RuntimeException
{
    public function __construct()
    {
        parent::__construct('The engine takes too long for this.');
    }
}
