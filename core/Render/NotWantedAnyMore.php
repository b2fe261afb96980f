<?php

namespace Pestle\Core\Render;

/** Edits that were being worked out, and that nobody has asked for in a while. */
final class NotWantedAnyMore extends \RuntimeException
{
}
