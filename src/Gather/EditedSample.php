<?php

namespace Pestle\App\Gather;

use Pestle\App\Entity\Sample;
use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\WaveOverview;
use Pestle\Core\Sample\Edits;

/** A sample as a page asks for it: with edits, or without any. */
final readonly class EditedSample
{
    public function __construct(public Sample $sample, public Edits $edits, private SampleStore $samples)
    {
    }

    public function with(Edits $edits): self
    {
        return new self($this->sample, $edits, $this->samples);
    }

    public function frames(): int
    {
        return $this->edits->length($this->sample->frames);
    }

    /** To be read throughout, or from a frame on, so many of them. */
    public function source(int $from = 0, ?int $count = null): AudioSource
    {
        $rest = max(1, $this->frames() - $from);

        return $this->samples->library(false)->openFor($this->edits->of($this->sample->hash), $from, min($count ?? $rest, $rest));
    }

    /** How far it is being worked out, 0 to 1; null when it is not. */
    public function progress(): ?float
    {
        return $this->samples->library()->progress($this->edits->of($this->sample->hash));
    }

    public function outline(): WaveOverview
    {
        return $this->samples->outline($this->sample, $this->edits);
    }
}
