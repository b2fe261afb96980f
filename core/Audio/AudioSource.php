<?php

namespace Pestle\Core\Audio;

/** Recorded sound that can be read from any frame, as stereo. */
interface AudioSource
{
    /** Frames a second. */
    public function sampleRate(): int;

    public function frames(): int;

    /** Exactly $count frames from $start; what lies outside the recording is silence. */
    public function read(int $start, int $count): StereoBlock;
}
