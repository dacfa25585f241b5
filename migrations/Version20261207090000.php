<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Ways to look at a dossier are saved under a name. */
final class Version20261207090000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE dossier_view (
                id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT,
                code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                dossier_id BIGINT UNSIGNED NOT NULL,
                person VARCHAR(100) COLLATE utf8mb4_bin NOT NULL,
                for_all TINYINT(1) NOT NULL,
                name VARCHAR(200) NOT NULL,
                view TEXT NOT NULL,
                PRIMARY KEY (id),
                UNIQUE KEY dossier_view_code (code),
                KEY dossier_view_of (dossier_id, id),
                CONSTRAINT dossier_view_dossier FOREIGN KEY (dossier_id) REFERENCES dossier (id)
            ) ENGINE=InnoDB
            SQL);
    }
}
