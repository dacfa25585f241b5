<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Ypomna\App\Shared\Settings;

/**
 * People, their sessions, links that let somebody in once, and the log of all this; who handed in a file or asked for a check; and
 * what each of them looked at last.
 */
final class Version20261201090000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE person (
                id INT UNSIGNED NOT NULL AUTO_INCREMENT,
                code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                name VARCHAR(100) NOT NULL,
                role VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                mail VARCHAR(190) DEFAULT NULL,
                password VARCHAR(255) DEFAULT NULL,
                second_step VARCHAR(255) DEFAULT NULL,
                used_step BIGINT UNSIGNED DEFAULT NULL,
                zone VARCHAR(60) DEFAULT NULL,
                feed INT UNSIGNED NOT NULL DEFAULT 0,
                made_at DATETIME(6) NOT NULL,
                closed_at DATETIME(6) DEFAULT NULL,
                PRIMARY KEY (id),
                UNIQUE KEY person_code (code),
                UNIQUE KEY person_name (name),
                KEY person_mail (mail)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE person_recovery (
                person_id INT UNSIGNED NOT NULL,
                hash BINARY(32) NOT NULL,
                PRIMARY KEY (person_id, hash)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE person_session (
                hash BINARY(32) NOT NULL,
                person_id INT UNSIGNED NOT NULL,
                begun_at DATETIME(6) NOT NULL,
                seen_at DATETIME(6) NOT NULL,
                network VARCHAR(45) CHARACTER SET ascii NOT NULL,
                agent VARCHAR(300) NOT NULL,
                PRIMARY KEY (hash),
                KEY session_person (person_id, seen_at),
                KEY session_seen (seen_at)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE person_link (
                hash BINARY(32) NOT NULL,
                kind VARCHAR(10) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                person_id INT UNSIGNED DEFAULT NULL,
                role VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin DEFAULT NULL,
                mail VARCHAR(190) DEFAULT NULL,
                made_by VARCHAR(100) NOT NULL,
                made_at DATETIME(6) NOT NULL,
                PRIMARY KEY (hash),
                KEY link_made (made_at),
                KEY link_person (person_id)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE person_log (
                id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT,
                at DATETIME(6) NOT NULL,
                act VARCHAR(30) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                who VARCHAR(100) NOT NULL,
                whom VARCHAR(100) NOT NULL,
                detail VARCHAR(200) NOT NULL,
                network VARCHAR(45) CHARACTER SET ascii NOT NULL,
                PRIMARY KEY (id)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE person_token (
                id VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                hash BINARY(32) NOT NULL,
                person_id INT UNSIGNED NOT NULL,
                scopes VARCHAR(100) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                made_at DATETIME(6) NOT NULL,
                expires_at DATETIME(6) DEFAULT NULL,
                PRIMARY KEY (id),
                UNIQUE KEY token_hash (hash),
                KEY token_person (person_id)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql("ALTER TABLE arrival ADD person VARCHAR(100) NOT NULL DEFAULT '' AFTER code");
        $this->addSql("ALTER TABLE verification ADD person VARCHAR(100) NOT NULL DEFAULT '' AFTER code");
        // What the one person of before looked at last stays theirs.
        $this->addSql(
            'ALTER TABLE last_viewed ADD person VARCHAR(100) NOT NULL DEFAULT \'\' FIRST, DROP PRIMARY KEY,'
                .' ADD PRIMARY KEY (person, address_code)',
        );
        $this->addSql('UPDATE last_viewed SET person = ?', [Settings::text('PERSON_NAME', 'The archivist')]);
    }
}
