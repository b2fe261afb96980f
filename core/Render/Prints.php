<?php

namespace Pestle\Core\Render;

/**
 * Prints of a plan's segments, as far as they were planned; of a loop those of one pass. An object of its own, so that
 * what plans on need not hold its reader: such a circle would keep whole plans alive until it is looked for.
 */
final class Prints
{
    /** @var list<string> by index of the segment */
    public array $list = [];

    public function __construct(private readonly Plan $plan)
    {
    }

    public function add(Segment $segment): Segment
    {
        if ($segment->index === \count($this->list) && (!$this->plan->loops || $segment->start < $this->plan->frames)) {
            $this->list[] = $segment->print(!$this->plan->beat->movements->isEmpty());
        }

        return $segment;
    }
}
