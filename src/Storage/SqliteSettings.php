<?php

namespace Pestle\App\Storage;

use Doctrine\DBAL\Driver;
use Doctrine\DBAL\Driver\Connection;
use Doctrine\DBAL\Driver\Middleware;
use Doctrine\DBAL\Driver\Middleware\AbstractDriverMiddleware;

/** Every connection: write-ahead log, a patient lock, and transactions that take the write lock at once. */
final class SqliteSettings implements Middleware
{
    public function wrap(Driver $driver): Driver
    {
        return new class($driver) extends AbstractDriverMiddleware {
            public function connect(#[\SensitiveParameter] array $params): Connection
            {
                $connection = parent::connect($params);
                foreach (['busy_timeout = 8000', 'journal_mode = WAL', 'synchronous = NORMAL', 'foreign_keys = ON'] as $setting) {
                    $connection->exec('PRAGMA '.$setting);
                }

                return new ImmediateConnection($connection);
            }
        };
    }
}
