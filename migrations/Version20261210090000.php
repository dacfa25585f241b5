<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Files that belong to items, spoken notes among them. */
final class Version20261210090000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE attachment (
                id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT,
                code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                item_id BIGINT UNSIGNED NOT NULL,
                name VARCHAR(255) NOT NULL,
                type VARCHAR(100) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                bytes BIGINT UNSIGNED NOT NULL,
                sha256 CHAR(64) CHARACTER SET ascii COLLATE ascii_bin DEFAULT NULL,
                marks TEXT NOT NULL,
                person VARCHAR(100) COLLATE utf8mb4_bin NOT NULL,
                added_at DATETIME(6) NOT NULL,
                last_at DATETIME(6) NOT NULL,
                deleted_at DATETIME(6) DEFAULT NULL,
                PRIMARY KEY (id),
                UNIQUE KEY attachment_code (code),
                KEY attachment_of (item_id, id),
                KEY attachment_coming (sha256, last_at),
                CONSTRAINT attachment_item FOREIGN KEY (item_id) REFERENCES item (id)
            ) ENGINE=InnoDB
            SQL);
    }
}
