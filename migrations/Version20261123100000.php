<?php

namespace Pestle\App\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Samples keep all that was heard in them, and what their maker says: corrections, tags, favourites. */
final class Version20261123100000 extends AbstractMigration
{
    public function isTransactional(): bool
    {
        return false;
    }

    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE sample ADD COLUMN facts CLOB DEFAULT NULL');
        $this->addSql("ALTER TABLE sample ADD COLUMN corrections CLOB NOT NULL DEFAULT '[]'");
        $this->addSql("ALTER TABLE sample ADD COLUMN tags CLOB NOT NULL DEFAULT '[]'");
        $this->addSql('ALTER TABLE sample ADD COLUMN favourite BOOLEAN NOT NULL DEFAULT 0');
        $this->addSql('ALTER TABLE sample ADD COLUMN cleared_at DATETIME DEFAULT NULL');
        foreach (['bpm', 'bars', 'confidence', 'onsets'] as $column) {
            $this->addSql('ALTER TABLE sample DROP COLUMN '.$column);
        }
    }

    public function down(Schema $schema): void
    {
        foreach (['facts', 'corrections', 'tags', 'favourite', 'cleared_at'] as $column) {
            $this->addSql('ALTER TABLE sample DROP COLUMN '.$column);
        }
        $this->addSql('ALTER TABLE sample ADD COLUMN bpm DOUBLE PRECISION DEFAULT NULL');
        $this->addSql('ALTER TABLE sample ADD COLUMN bars INTEGER DEFAULT NULL');
        $this->addSql('ALTER TABLE sample ADD COLUMN confidence DOUBLE PRECISION NOT NULL DEFAULT 0');
        $this->addSql("ALTER TABLE sample ADD COLUMN onsets CLOB NOT NULL DEFAULT '[]'");
    }
}
