<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Who may see what is not for everybody: what the gate knows of it, and how each row of the holdings says that it is so. */
final class Version20261202090000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE access_grant (
                thing VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                ground VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                holder VARCHAR(100) COLLATE utf8mb4_bin NOT NULL,
                part VARCHAR(8) COLLATE utf8mb4_bin NOT NULL DEFAULT '',
                closed TINYINT(1) NOT NULL DEFAULT 0,
                PRIMARY KEY (thing, ground, holder),
                KEY grant_holder (holder, ground, closed, thing)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            ALTER TABLE capture ADD limited TINYINT(1) NOT NULL DEFAULT 0, DROP KEY capture_history,
                ADD KEY capture_history (address_id, captured_at, status, leads_on, changed, limited),
                ADD KEY capture_limited (limited, captured_at, address_id), ADD KEY capture_limited_of (address_id, limited, code)
            SQL);
        $this->addSql('ALTER TABLE record ADD limited_by VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin DEFAULT NULL');
        $this->addSql('ALTER TABLE warc_file ADD limited TINYINT(1) NOT NULL DEFAULT 0, ADD KEY warc_limited (limited, bytes)');
        $this->addSql(<<<'SQL'
            ALTER TABLE address ADD limited INT UNSIGNED NOT NULL DEFAULT 0, ADD open_last_at DATETIME(6) DEFAULT NULL,
                ADD KEY address_limited (limited, open_last_at), ADD KEY address_open (open_last_at, id)
            SQL);
        $this->addSql('UPDATE address SET open_last_at = last_at');
        foreach ([
            'capture_job', 'capture_list', 'crawl', 'arrival', 'capture_description', 'crawl_page', 'live_address', 'watch',
        ] as $table) {
            $this->addSql("ALTER TABLE {$table} ADD limited TINYINT(1) NOT NULL DEFAULT 0");
        }
        $this->addSql(<<<'SQL'
            ALTER TABLE watch_event ADD limited_by VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin DEFAULT NULL,
                ADD KEY watch_event_before (capture_before), ADD KEY watch_event_after (capture_after),
                ADD KEY watch_event_limited (limited_by)
            SQL);
        $this->addSql('ALTER TABLE capture_description MODIFY title VARCHAR(1000) NOT NULL');
        $this->addSql('ALTER TABLE tag MODIFY name VARCHAR(200) NOT NULL');
        $this->addSql('ALTER TABLE arrival ADD said LONGTEXT DEFAULT NULL,'
            .' ADD capture_code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin DEFAULT NULL, ADD KEY arrival_sha256 (sha256)');
        $this->addSql('ALTER TABLE crawl_page ADD KEY crawl_page_place (segment_id, at_offset)');
        $this->addSql('ALTER TABLE capture_job ADD dossier VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin DEFAULT NULL,'
            .' ADD due DATE DEFAULT NULL,'
            .' ADD KEY job_capture (capture_code), ADD KEY job_missing (missing_of)');
        $this->addSql(<<<'SQL'
            CREATE TABLE reading_right (
                label VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                session VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                capture_code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                made_on DATE NOT NULL,
                PRIMARY KEY (label),
                KEY right_made (made_on)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE first_answer (
                person VARCHAR(100) NOT NULL,
                key_hash BINARY(32) NOT NULL,
                body_hash BINARY(32) NOT NULL,
                status SMALLINT UNSIGNED NOT NULL DEFAULT 0,
                location VARCHAR(500) DEFAULT NULL,
                body MEDIUMTEXT DEFAULT NULL,
                asked_at DATETIME(6) NOT NULL,
                PRIMARY KEY (person, key_hash),
                KEY answer_asked (asked_at)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE dossier (
                id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT,
                code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                parent_id BIGINT UNSIGNED DEFAULT NULL,
                name VARCHAR(1000) NOT NULL,
                note MEDIUMTEXT NOT NULL,
                open VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin DEFAULT NULL,
                pinned TINYINT(1) NOT NULL DEFAULT 0,
                limited TINYINT(1) NOT NULL DEFAULT 1,
                version INT UNSIGNED NOT NULL DEFAULT 1,
                made_by VARCHAR(100) NOT NULL,
                made_at DATETIME(6) NOT NULL,
                changed_at DATETIME(6) NOT NULL,
                deleted_at DATETIME(6) DEFAULT NULL,
                PRIMARY KEY (id),
                UNIQUE KEY dossier_code (code),
                KEY dossier_parent (parent_id, deleted_at, name(100)),
                CONSTRAINT dossier_in FOREIGN KEY (parent_id) REFERENCES dossier (id)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE dossier_person (
                dossier_id BIGINT UNSIGNED NOT NULL,
                name VARCHAR(100) NOT NULL,
                part VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                PRIMARY KEY (dossier_id, name),
                CONSTRAINT dossier_person_of FOREIGN KEY (dossier_id) REFERENCES dossier (id)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE dossier_capture (
                dossier_id BIGINT UNSIGNED NOT NULL,
                capture_code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                person VARCHAR(100) NOT NULL,
                laid_at DATETIME(6) NOT NULL,
                PRIMARY KEY (dossier_id, capture_code),
                KEY dossier_capture_code (capture_code),
                CONSTRAINT dossier_capture_of FOREIGN KEY (dossier_id) REFERENCES dossier (id)
            ) ENGINE=InnoDB
            SQL);
    }
}
