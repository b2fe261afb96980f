<?php

namespace Pestle\App\Queue;

use Symfony\Component\Messenger\Stamp\StampInterface;

/** Says that other machines do it. */
final readonly class Elsewhere implements StampInterface
{
}
