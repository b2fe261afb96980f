<?php

namespace Pestle\Core\Apart;

use Pestle\Core\Audio\StereoBlock;

/** A stretch of a recording, taken apart. */
final readonly class ApartPiece
{
    public function __construct(public StereoBlock $drums, public StereoBlock $bass, public StereoBlock $melody, public StereoBlock $voice, public Owned $owned)
    {
    }

    public function of(RecordingPart $part): StereoBlock
    {
        return match ($part) {
            RecordingPart::Drums => $this->drums,
            RecordingPart::Bass => $this->bass,
            RecordingPart::Melody => $this->melody,
            RecordingPart::Voice => $this->voice,
        };
    }
}
