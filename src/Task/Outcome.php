<?php

namespace Pestle\App\Task;

/** What came of a job: files in a folder, and what there is to say; or why nothing came of it. */
final readonly class Outcome
{
    /**
     * @param string               $folder  that holds what was made, and is thrown away unless it is taken
     * @param array<string, mixed> $said
     * @param string|null          $trouble in words
     */
    public function __construct(public string $folder, public array $said = [], public ?string $trouble = null)
    {
    }

    public static function failed(string $folder, string $trouble): self
    {
        return new self($folder, [], mb_substr($trouble, 0, 400));
    }
}
