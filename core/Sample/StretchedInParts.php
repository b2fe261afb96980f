<?php

namespace Pestle\Core\Sample;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\Reading;
use Pestle\Core\Audio\StereoBlock;

/** A source made longer or shorter with its pitch kept, worked out as far as it is read and kept from then on. */
abstract class StretchedInParts implements AudioSource
{
    protected readonly int $frames;
    protected readonly KeptFrames $kept;
    /** @var array<int, \Generator<StereoBlock>> work that is in a part */
    protected array $work = [];
    /** @var array<int, int> first frame of the result that a part does not have yet */
    protected array $made = [];

    /** @param StretchMap $map where its frames come to lie */
    public function __construct(protected readonly AudioSource $source, protected readonly StretchMap $map)
    {
        $this->frames = $map->length();
        $this->kept = new KeptFrames();
    }

    public function sampleRate(): int
    {
        return $this->source->sampleRate();
    }

    public function frames(): int
    {
        return $this->frames;
    }

    public function read(int $start, int $count): StereoBlock
    {
        return Reading::padded($start, $count, $this->frames, function (int $start, int $count): StereoBlock {
            $this->makeAll($start, $start + $count);

            return $this->kept->read($start, $count);
        });
    }

    /** Works on all parts from a frame of the result on, until they are there up to another. */
    abstract protected function makeAll(int $start, int $end): void;
}
