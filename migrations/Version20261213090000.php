<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Texts that are looked through, when they stand, and their words; the index itself is the engine's own. */
final class Version20261213090000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE search_text (
                id BIGINT UNSIGNED AUTO_INCREMENT NOT NULL,
                kind TINYINT UNSIGNED NOT NULL,
                subject_id BIGINT UNSIGNED NOT NULL,
                digest BINARY(16) NOT NULL,
                language VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                site VARCHAR(255) NOT NULL,
                title VARCHAR(1000) NOT NULL,
                tags TEXT NOT NULL,
                body LONGBLOB NOT NULL,
                is_cut TINYINT(1) NOT NULL,
                since DATETIME(6) DEFAULT NULL,
                until DATETIME(6) DEFAULT NULL,
                is_indexed TINYINT(1) NOT NULL DEFAULT 0,
                PRIMARY KEY (id),
                UNIQUE KEY search_text_of (kind, subject_id, digest),
                KEY search_text_waits (is_indexed, id)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE search_stand (
                capture_id BIGINT UNSIGNED NOT NULL,
                text_id BIGINT UNSIGNED NOT NULL,
                address_id BIGINT UNSIGNED NOT NULL,
                code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                captured_at DATETIME(6) NOT NULL,
                limited TINYINT(1) NOT NULL,
                is_due TINYINT(1) NOT NULL DEFAULT 0,
                PRIMARY KEY (capture_id),
                UNIQUE KEY search_stand_code (code),
                KEY search_stand_due (is_due),
                KEY search_stand_text (text_id, captured_at),
                KEY search_stand_address (address_id, captured_at),
                CONSTRAINT search_stand_of FOREIGN KEY (text_id) REFERENCES search_text (id)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE search_word (
                word VARCHAR(60) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
                language VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                stem VARCHAR(60) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
                backward VARCHAR(60) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
                texts INT UNSIGNED NOT NULL,
                PRIMARY KEY (word, language),
                KEY search_word_stem (stem, language, texts),
                KEY search_word_backward (backward)
            ) ENGINE=InnoDB
            SQL);
    }
}
