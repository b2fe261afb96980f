<?php

namespace Pestle\App\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;
use Pestle\App\Storage\Manifest;

/** An index of the samples that stored pieces of beats mention. */
final class Version20261123200000 extends AbstractMigration
{
    public function isTransactional(): bool
    {
        return false;
    }

    public function up(Schema $schema): void
    {
        $this->addSql('CREATE TABLE content_sample (content VARCHAR(64) NOT NULL, sample VARCHAR(64) NOT NULL, PRIMARY KEY (sample, content)) WITHOUT ROWID');
        foreach ($this->connection->iterateKeyValue('SELECT hash, body FROM content') as $hash => $body) {
            foreach (Manifest::samples((string) gzinflate(\is_string($body) ? $body : '')) as $sample) {
                $this->addSql('INSERT OR IGNORE INTO content_sample (content, sample) VALUES (?, ?)', [$hash, $sample]);
            }
        }
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP TABLE content_sample');
    }
}
