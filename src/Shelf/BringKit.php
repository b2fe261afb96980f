<?php

namespace Pestle\App\Shelf;

use Pestle\App\Queue\UploadJob;

/** files that came in hold a kit, which wants to go on the shelf. */
final readonly class BringKit extends UploadJob
{
    /** @param list<string> $files uploads that are complete */
    public function __construct(string $upload, public array $files)
    {
        parent::__construct($upload);
    }
}
