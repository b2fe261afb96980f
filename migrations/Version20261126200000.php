<?php

namespace Pestle\App\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Grooves that are kept for any beat. */
final class Version20261126200000 extends AbstractMigration
{
    public function isTransactional(): bool
    {
        return false;
    }

    public function up(Schema $schema): void
    {
        $this->addSql('CREATE TABLE groove (id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL, name VARCHAR(80) NOT NULL, grid INTEGER NOT NULL, slots CLOB NOT NULL)');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP TABLE groove');
    }
}
