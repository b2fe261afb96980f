<?php

namespace Pestle\App\Task;

/** All that the work on a job needs. */
final readonly class Load
{
    /**
     * @param array<string, mixed> $what    as JSON can say it
     * @param list<string>         $samples hashes of all that is sounded
     * @param string|null          $folder  where it is made when it is made here, and gone on with after a crash; else in one that is thrown away
     */
    public function __construct(public array $what, public array $samples, public ?string $folder = null)
    {
    }
}
