<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Names of hosts that do not fit into one label, and what is a person's own: favourites, and up to which event they looked. */
final class Version20261203090000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE page_host (
                mark CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                name VARCHAR(300) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                made_on DATE NOT NULL,
                PRIMARY KEY (mark),
                KEY page_host_made (made_on)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE favourite (
                person VARCHAR(100) COLLATE utf8mb4_bin NOT NULL,
                kind VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                pinned TINYINT(1) NOT NULL DEFAULT 0,
                marked_at DATETIME(6) NOT NULL,
                PRIMARY KEY (person, kind, code),
                KEY favourite_of (person, pinned, marked_at)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql('ALTER TABLE dossier DROP pinned');
        $this->addSql('ALTER TABLE person ADD language VARCHAR(20) DEFAULT NULL AFTER zone');
        $this->addSql(<<<'SQL'
            CREATE TABLE event_reader (
                person VARCHAR(100) COLLATE utf8mb4_bin NOT NULL,
                seen_up_to BIGINT UNSIGNED NOT NULL,
                PRIMARY KEY (person)
            ) ENGINE=InnoDB
            SQL);
    }
}
