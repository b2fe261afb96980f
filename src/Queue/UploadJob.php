<?php

namespace Pestle\App\Queue;

use Pestle\App\Entity\Upload;

/** A job that makes of an upload what it was sent for. There is one such job for each upload. */
abstract readonly class UploadJob implements Job
{
    public function __construct(public string $upload)
    {
    }

    public function key(): string
    {
        return 'upload '.$this->upload;
    }

    public function title(): string
    {
        return 'Taking in %s';
    }

    public function about(): array
    {
        return [Upload::class, $this->upload];
    }
}
