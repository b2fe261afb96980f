<?php

namespace Pestle\Core\Mix;

/** What a line of the mixer is fed by: pads and instruments, other lines, or sends. */
enum NodeKind: string
{
    case Channel = 'channel';
    case Group = 'group';
    case Return = 'return';

    /** The letter its ids begin with. */
    public function letter(): string
    {
        return $this->value[0];
    }
}
