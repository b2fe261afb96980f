<?php

namespace Pestle\App\Queue;

use Pestle\App\Entity\Awaited;

/** Something that takes long and is done in the background, once, however often it is asked for. */
interface Job
{
    /** What it is known by: of jobs with the same key there is one. */
    public function key(): string;

    /** What it does, for people, with %s for the name of what it is about, if it is about one thing. */
    public function title(): string;

    /** @return array{class-string<Awaited>, int|string}|null what it is about, and its id; null where that is all there is */
    public function about(): ?array;
}
