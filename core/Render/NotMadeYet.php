<?php

namespace Pestle\Core\Render;

/** A sound whose edits take long and are still being worked out, somewhere else. */
final class NotMadeYet extends \RuntimeException
{
    /** @param float|null $progress 0 to 1; null when nobody has begun */
    public function __construct(public readonly string $sound, public readonly ?float $progress)
    {
        parent::__construct('The edits of this sample are being worked out'.(null === $progress ? ' …' : \sprintf(': %d %%.', (int) (100.0 * $progress))));
    }
}
