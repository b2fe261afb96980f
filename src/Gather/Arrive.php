<?php

namespace Pestle\App\Gather;

use Pestle\App\Queue\UploadJob;

/** an upload is complete and wants to become a sample. */
final readonly class Arrive extends UploadJob
{
}
