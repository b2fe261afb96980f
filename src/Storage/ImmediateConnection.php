<?php

namespace Pestle\App\Storage;

use Doctrine\DBAL\Driver\Middleware\AbstractConnectionMiddleware;

/** Begins every transaction with the write lock: one begun for reading can't always be turned into a writing one. */
final class ImmediateConnection extends AbstractConnectionMiddleware
{
    public function beginTransaction(): void
    {
        $this->exec('BEGIN IMMEDIATE');
    }

    public function commit(): void
    {
        $this->exec('COMMIT');
    }

    public function rollBack(): void
    {
        $this->exec('ROLLBACK');
    }
}
