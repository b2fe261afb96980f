<?php

namespace Pestle\Core\Exchange\Midi;

/** A MIDI file that cannot be read, with a sentence that says why and what to do. */
final class UnreadableMidi extends \RuntimeException
{
}
