<?php

namespace Pestle\App\Gather;

use Pestle\App\Queue\SoundJob;

/** the hits of a long sound are wanted, for a sensitivity (0 to 1) and a least distance in seconds. */
final readonly class FindHits extends SoundJob
{
    public function __construct(string $sound, public float $sensitivity, public float $shortest)
    {
        parent::__construct($sound);
    }

    public function key(): string
    {
        return 'hits '.$this->name();
    }

    public function title(): string
    {
        return 'Finding the hits of %s';
    }

    /** Names the file that keeps what was found. */
    public function name(): string
    {
        return hash('sha256', $this->sound).\sprintf('-%.3f-%.3f.hits', $this->sensitivity, $this->shortest);
    }
}
