<?php

namespace Pestle\Core\Kit;

/** Which of a pad's sounds answer a strike. */
enum Answer: string
{
    case All = 'all';
    case Strength = 'strength';
}
