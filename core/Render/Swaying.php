<?php

namespace Pestle\Core\Render;

/** What moves something of a voice while it sounds: percent of its level or place, cents of its pitch or cut-off. */
interface Swaying
{
    /** The same name means the same values. */
    public function name(): string;

    /**
     * @param int $step first of them, counted in steps of StateVariable::STEP frames from the strike; before it all is at rest
     *
     * @return list<float>
     */
    public function values(int $step, int $count): array;

    /** As high as it gets. */
    public function highest(): float;
}
