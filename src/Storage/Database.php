<?php

namespace Pestle\App\Storage;

use Doctrine\DBAL\Connection;

/** The connection; a transaction that could not even be begun, as the disk cannot be written or others hold it too long, leaves none open. */
final class Database extends Connection
{
    public function beginTransaction(): void
    {
        $outermost = !$this->isTransactionActive();
        try {
            parent::beginTransaction();
        } catch (\Throwable $e) {
            // It is counted all the same: what follows would go into points within a transaction that there is not.
            if ($outermost) {
                $this->close();
            }
            throw $e;
        }
    }
}
