<?php

namespace Pestle\Core\Exchange\Sfz;

/** A file that cannot be read as SFZ; the message names it and says what to do. */
final class Unreadable extends \RuntimeException
{
}
