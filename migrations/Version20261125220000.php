<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Parcels: captures put together to be given out. */
final class Version20261125220000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE parcel (
                id BIGINT UNSIGNED AUTO_INCREMENT NOT NULL, code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, title TEXT NOT NULL, wish LONGTEXT NOT NULL, state VARCHAR(12) CHARACTER SET ascii NOT NULL,
                done INT UNSIGNED NOT NULL, message TEXT DEFAULT NULL, captures INT UNSIGNED NOT NULL, bytes BIGINT UNSIGNED NOT NULL, files LONGTEXT NOT NULL, left_out LONGTEXT NOT NULL,
                asked_at DATETIME(6) NOT NULL, finished_at DATETIME(6) DEFAULT NULL,
                PRIMARY KEY (id), UNIQUE KEY parcel_code (code)
            )
            SQL);
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
