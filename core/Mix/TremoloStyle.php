<?php

namespace Pestle\Core\Mix;

enum TremoloStyle: string
{
    case Level = 'level';
    case Place = 'side to side';
    case Ring = 'ring';
}
