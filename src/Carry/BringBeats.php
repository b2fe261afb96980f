<?php

namespace Pestle\App\Carry;

use Pestle\App\Queue\UploadJob;

/** An archive came in whole, and wants to be unpacked. */
final readonly class BringBeats extends UploadJob
{
}
