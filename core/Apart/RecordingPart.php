<?php

namespace Pestle\Core\Apart;

/** What a recording is taken apart into. */
enum RecordingPart: string
{
    case Drums = 'drums';
    case Bass = 'bass';
    case Melody = 'melody';
    case Voice = 'voice';

    public function label(): string
    {
        return ucfirst($this->value);
    }
}
