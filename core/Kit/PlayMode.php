<?php

namespace Pestle\Core\Kit;

/** Whether a struck pad sounds to its end or only while it is held. */
enum PlayMode: string
{
    case OneShot = 'one-shot';
    case Held = 'held';
}
