<?php

namespace Pestle\App\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Beats with their revisions, samples, uploads, deliveries. */
final class Version20261123000000 extends AbstractMigration
{
    /** PDO does not see transactions begun with IMMEDIATE, and would leave this one open. */
    public function isTransactional(): bool
    {
        return false;
    }

    public function up(Schema $schema): void
    {
        $this->addSql('CREATE TABLE beat (id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL, name VARCHAR(80) NOT NULL, head INTEGER NOT NULL, tempo DOUBLE PRECISION NOT NULL, key_name VARCHAR(20) DEFAULT NULL, created_at DATETIME NOT NULL, changed_at DATETIME NOT NULL, deleted_at DATETIME DEFAULT NULL, demo BOOLEAN NOT NULL)');
        $this->addSql('CREATE TABLE content (hash VARCHAR(64) PRIMARY KEY NOT NULL, body BLOB NOT NULL)');
        $this->addSql('CREATE TABLE revision (beat_id INTEGER NOT NULL, number INTEGER NOT NULL, manifest CLOB NOT NULL, label VARCHAR(120) NOT NULL, touches CLOB NOT NULL, change_id VARCHAR(60) DEFAULT NULL, undo_to INTEGER DEFAULT NULL, redo_to INTEGER DEFAULT NULL, made_at DATETIME NOT NULL, PRIMARY KEY(beat_id, number), FOREIGN KEY (beat_id) REFERENCES beat (id))');
        $this->addSql('CREATE UNIQUE INDEX revision_change ON revision (beat_id, change_id)');
        $this->addSql('CREATE TABLE sample (hash VARCHAR(64) PRIMARY KEY NOT NULL, name VARCHAR(120) NOT NULL, frames INTEGER NOT NULL, rate INTEGER NOT NULL, channels INTEGER NOT NULL, format VARCHAR(20) NOT NULL, peak_db DOUBLE PRECISION NOT NULL, bpm DOUBLE PRECISION DEFAULT NULL, bars INTEGER DEFAULT NULL, confidence DOUBLE PRECISION NOT NULL, onsets CLOB NOT NULL, overview BLOB NOT NULL, note VARCHAR(300) NOT NULL, added_at DATETIME NOT NULL)');
        $this->addSql('CREATE TABLE upload (id VARCHAR(32) PRIMARY KEY NOT NULL, name VARCHAR(120) NOT NULL, size INTEGER NOT NULL, received INTEGER NOT NULL, state VARCHAR(12) NOT NULL, message VARCHAR(400) NOT NULL, sample VARCHAR(64) DEFAULT NULL, started_at DATETIME NOT NULL)');
        $this->addSql('CREATE TABLE delivery (id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL, beat_id INTEGER NOT NULL, head INTEGER NOT NULL, settings CLOB NOT NULL, title VARCHAR(120) NOT NULL, state VARCHAR(12) NOT NULL, progress DOUBLE PRECISION NOT NULL, message VARCHAR(400) NOT NULL, files CLOB NOT NULL, archive VARCHAR(200) DEFAULT NULL, started_at DATETIME NOT NULL, FOREIGN KEY (beat_id) REFERENCES beat (id))');
    }

    public function down(Schema $schema): void
    {
        foreach (['delivery', 'upload', 'sample', 'revision', 'content', 'beat'] as $table) {
            $this->addSql('DROP TABLE '.$table);
        }
    }
}
