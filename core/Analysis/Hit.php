<?php

namespace Pestle\Core\Analysis;

/** A hit in a recording. */
final readonly class Hit
{
    /**
     * @param int   $frame      where it begins in the source
     * @param float $confidence how sure the kind is, 0 to 1
     * @param float $level      how loud it is beside the loudest of the recording, 0 to 1
     */
    public function __construct(public int $frame, public HitKind $kind, public float $confidence, public float $level)
    {
    }
}
