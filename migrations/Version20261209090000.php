<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Finding aids: lists of contents with descriptions, living or fixed. */
final class Version20261209090000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE finding_aid (
                id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT,
                code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                dossier_id BIGINT UNSIGNED DEFAULT NULL,
                title VARCHAR(1000) NOT NULL,
                note TEXT NOT NULL,
                items MEDIUMTEXT DEFAULT NULL,
                fixed LONGTEXT DEFAULT NULL,
                sha256 CHAR(64) CHARACTER SET ascii COLLATE ascii_bin DEFAULT NULL,
                person VARCHAR(100) COLLATE utf8mb4_bin NOT NULL,
                made_at DATETIME(6) NOT NULL,
                PRIMARY KEY (id),
                UNIQUE KEY finding_aid_code (code),
                KEY finding_aid_dossier (dossier_id, id),
                KEY finding_aid_person (person, id),
                CONSTRAINT finding_aid_of FOREIGN KEY (dossier_id) REFERENCES dossier (id)
            ) ENGINE=InnoDB
            SQL);
    }
}
