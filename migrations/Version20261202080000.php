<?php

namespace Pestle\App\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** A delivery says how loud it came out. */
final class Version20261202080000 extends AbstractMigration
{
    public function isTransactional(): bool
    {
        return false;
    }

    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE delivery ADD COLUMN lufs DOUBLE PRECISION DEFAULT NULL');
        $this->addSql('ALTER TABLE delivery ADD COLUMN true_peak_db DOUBLE PRECISION DEFAULT NULL');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE delivery DROP COLUMN lufs');
        $this->addSql('ALTER TABLE delivery DROP COLUMN true_peak_db');
    }
}
