<?php

namespace Pestle\App\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What the library is searched by stands beside what was heard; filled for older rows as Pestle starts. */
final class Version20261130000000 extends AbstractMigration
{
    private const COLUMNS = ['words' => 'CLOB', 'said_kind' => 'VARCHAR(10)', 'said_role' => 'VARCHAR(12)', 'said_key' => 'VARCHAR(12)', 'said_bpm' => 'DOUBLE PRECISION', 'print' => 'VARCHAR(64)'];

    public function isTransactional(): bool
    {
        return false;
    }

    public function up(Schema $schema): void
    {
        foreach (self::COLUMNS as $name => $type) {
            $this->addSql("ALTER TABLE sample ADD COLUMN $name $type DEFAULT NULL");
        }
        $this->addSql('CREATE INDEX sample_added ON sample (cleared_at, added_at)');
        $this->addSql('CREATE INDEX sample_kind ON sample (said_kind, said_role)');
        $this->addSql('CREATE INDEX sample_print ON sample (print)');
    }

    public function down(Schema $schema): void
    {
        foreach (['added', 'kind', 'print'] as $index) {
            $this->addSql("DROP INDEX sample_$index");
        }
        foreach (array_keys(self::COLUMNS) as $name) {
            $this->addSql("ALTER TABLE sample DROP COLUMN $name");
        }
    }
}
