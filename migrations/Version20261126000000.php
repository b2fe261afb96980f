<?php

namespace Pestle\App\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** The shelf: kits and instruments with their versions, and the samples these hold. */
final class Version20261126000000 extends AbstractMigration
{
    public function isTransactional(): bool
    {
        return false;
    }

    public function up(Schema $schema): void
    {
        $this->addSql("CREATE TABLE kit (id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL, name VARCHAR(80) NOT NULL, tags CLOB NOT NULL DEFAULT '[]', note VARCHAR(400) NOT NULL DEFAULT '', demo BOOLEAN NOT NULL DEFAULT 0, deleted_at DATETIME DEFAULT NULL)");
        $this->addSql('CREATE TABLE kit_version (id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL, kit_id INTEGER NOT NULL, number INTEGER NOT NULL, print VARCHAR(24) NOT NULL, body CLOB NOT NULL, saved_at DATETIME NOT NULL, FOREIGN KEY (kit_id) REFERENCES kit (id))');
        $this->addSql('CREATE UNIQUE INDEX kit_version_number ON kit_version (kit_id, number)');
        $this->addSql('CREATE TABLE kit_sample (version_id INTEGER NOT NULL, sample VARCHAR(64) NOT NULL, PRIMARY KEY(version_id, sample), FOREIGN KEY (version_id) REFERENCES kit_version (id))');
    }

    public function down(Schema $schema): void
    {
        foreach (['kit_sample', 'kit_version', 'kit'] as $table) {
            $this->addSql('DROP TABLE '.$table);
        }
    }
}
