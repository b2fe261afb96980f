<?php

namespace Pestle\App\Storage;

/** What undo and redo would do, by name, and to which revision they lead. */
final readonly class History
{
    private function __construct(public ?string $undo, public ?int $undoTo, public ?string $redo, public ?int $redoTo)
    {
    }

    /** @param array<string, mixed> $row */
    public static function fromRow(array $row): self
    {
        $undoTo = is_numeric($row['undoTo']) ? (int) $row['undoTo'] : null;

        return new self(
            null !== $undoTo && \is_string($row['undo']) ? $row['undo'] : null,
            $undoTo,
            \is_string($row['redo']) ? $row['redo'] : null,
            is_numeric($row['redoTo']) ? (int) $row['redoTo'] : null,
        );
    }
}
