<?php

namespace Pestle\App\Storage;

use Doctrine\DBAL\Driver\Exception;
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
        try {
            $this->exec('COMMIT');
        } catch (Exception $e) {
            // On a full disk it stays open; nobody else could write until this process ends.
            $this->rollBack();
            throw $e;
        }
    }

    public function rollBack(): void
    {
        try {
            $this->exec('ROLLBACK');
        } catch (Exception $e) {
            // Some failures end it by themselves.
            if (!str_contains($e->getMessage(), 'no transaction is active')) {
                throw $e;
            }
        }
    }
}
