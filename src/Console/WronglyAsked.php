<?php

namespace Pestle\App\Console;

/** A command was called in a way that makes no sense; the message says how it does. */
final class WronglyAsked extends \InvalidArgumentException
{
}
