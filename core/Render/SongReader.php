<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\BeatCodec;

/** Reads a whole beat a few segments at a time, while it plays. */
final class SongReader
{
    /** @var \Generator<Moment> */
    private \Generator $moments;
    private int $at = 0;
    private readonly int $music;

    public function __construct(private readonly string $json, Renderer $renderer, PadSounds $sounds)
    {
        $beat = BeatCodec::decode($json);
        $plan = Plan::song($beat, $beat->order->parts, $sounds);
        $this->music = $plan->frames;
        $this->moments = $renderer->stream($plan);
    }

    public function continues(string $json, int $from): bool
    {
        return $json === $this->json && $from >= $this->at;
    }

    public function musicFrames(): int
    {
        return $this->music;
    }

    /** @return array{list<Moment>, bool} the segments from $from on, and whether the beat ends with them */
    public function read(int $from, int $count): array
    {
        while ($this->at < $from && $this->moments->valid()) {
            $this->moments->next();
            ++$this->at;
        }
        $out = [];
        while (\count($out) < $count && $this->moments->valid()) {
            $out[] = $this->moments->current();
            $this->moments->next();
            ++$this->at;
        }

        return [$out, !$this->moments->valid()];
    }
}
