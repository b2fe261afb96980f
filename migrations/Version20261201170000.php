<?php

namespace Pestle\App\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** How far a delivery is, is told by its job. */
final class Version20261201170000 extends AbstractMigration
{
    public function isTransactional(): bool
    {
        return false;
    }

    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE delivery DROP COLUMN progress');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE delivery ADD COLUMN progress DOUBLE PRECISION DEFAULT 0 NOT NULL');
    }
}
