<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;

/** One edit of a beat: absolute ("velocity 92", never "louder"), named, checked. */
interface Change
{
    /** @throws InvalidChange when a field is out of range */
    public static function from(Fields $fields): self;

    /**
     * @throws InvalidChange             when the beat has nothing this could change
     * @throws \InvalidArgumentException when a value passes its limits
     */
    public function apply(Beat $beat): Beat;

    /** What undo would take back, in a few words. */
    public function label(Beat $beat): string;

    /**
     * The parts of the beat this reads or changes, as paths such as "pattern/p1/a0".
     * Two changes of which one touches nothing of the other, nor anything above or below it, can be made in either order.
     *
     * @return list<string>
     */
    public function touches(): array;
}
