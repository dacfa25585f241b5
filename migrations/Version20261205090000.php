<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** The desk remembers who did what, how notes read before, which notes lead to which items, and what one had open. */
final class Version20261205090000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE desk_act (
                id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT,
                item_id BIGINT UNSIGNED DEFAULT NULL,
                dossier_id BIGINT UNSIGNED DEFAULT NULL,
                kind VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                detail TEXT NOT NULL,
                person VARCHAR(100) COLLATE utf8mb4_bin NOT NULL,
                done_at DATETIME(6) NOT NULL,
                PRIMARY KEY (id),
                KEY desk_act_item (item_id, id),
                KEY desk_act_dossier (dossier_id, id),
                CONSTRAINT desk_act_item_of FOREIGN KEY (item_id) REFERENCES item (id),
                CONSTRAINT desk_act_dossier_of FOREIGN KEY (dossier_id) REFERENCES dossier (id)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE note_version (
                id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT,
                item_id BIGINT UNSIGNED NOT NULL,
                note MEDIUMTEXT NOT NULL,
                person VARCHAR(100) COLLATE utf8mb4_bin NOT NULL,
                begun_at DATETIME(6) NOT NULL,
                written_at DATETIME(6) NOT NULL,
                PRIMARY KEY (id),
                KEY note_version_of (item_id, id),
                CONSTRAINT note_version_item FOREIGN KEY (item_id) REFERENCES item (id)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE note_link (
                item_id BIGINT UNSIGNED NOT NULL,
                to_code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                PRIMARY KEY (item_id, to_code),
                KEY note_link_to (to_code, item_id),
                CONSTRAINT note_link_item FOREIGN KEY (item_id) REFERENCES item (id)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE opened (
                person VARCHAR(100) COLLATE utf8mb4_bin NOT NULL,
                kind VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                opened_at DATETIME(6) NOT NULL,
                PRIMARY KEY (person, kind, code),
                KEY opened_last (person, opened_at)
            ) ENGINE=InnoDB
            SQL);
    }
}
