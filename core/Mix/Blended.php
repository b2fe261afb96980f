<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;

/** A share of what an insert makes, beside the sound as it came. */
final readonly class Blended implements Insert
{
    /** @param float $share of the insert, 0 to 1 */
    public function __construct(private Insert $insert, private float $share)
    {
    }

    public function rest(): InsertState
    {
        return $this->insert->rest();
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        [$wet, $after, $curve] = $this->insert->process($in, $key, $state, $at);
        if (null !== $curve) {
            $mixed = $curve->mixed($this->share);

            return [Gain::along($in, $mixed), $after, $mixed];
        }
        $dry = 1.0 - $this->share;

        return [Gain::sum([$in, $wet], $in->frames(), [[$dry, $dry], [$this->share, $this->share]]), $after, null];
    }
}
