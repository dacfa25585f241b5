<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Files that people hand in. */
final class Version20261125120000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE arrival (
                id BIGINT UNSIGNED AUTO_INCREMENT NOT NULL, code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, name VARCHAR(255) NOT NULL, bytes BIGINT UNSIGNED NOT NULL,
                modified BIGINT UNSIGNED NOT NULL, state VARCHAR(12) CHARACTER SET ascii NOT NULL, message TEXT DEFAULT NULL, sha256 BINARY(32) DEFAULT NULL, records INT UNSIGNED NOT NULL, captures INT UNSIGNED NOT NULL,
                findings LONGTEXT NOT NULL, begun_at DATETIME(6) NOT NULL, finished_at DATETIME(6) DEFAULT NULL,
                PRIMARY KEY (id), UNIQUE KEY arrival_code (code), KEY arrival_state (state, id)
            )
            SQL);
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
