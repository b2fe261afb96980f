<?php

namespace Pestle\App\Machines;

/** The queue of many machines cannot be reached. */
final class QueueAway extends \RuntimeException
{
}
