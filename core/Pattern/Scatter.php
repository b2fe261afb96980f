<?php

namespace Pestle\Core\Pattern;

/** How chance changes strengths. */
enum Scatter: string
{
    case None = 'none';
    /** Somewhat above or below what is written. */
    case Around = 'around';
    /** Anything between two values, whatever is written. */
    case Between = 'between';
}
