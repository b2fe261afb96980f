<?php

namespace Pestle\App\Shelf;

/** Work: files that came in hold a kit, which wants to go on the shelf. */
final readonly class BringKit
{
    /** @param list<string> $files uploads that are complete */
    public function __construct(public string $upload, public array $files)
    {
    }
}
