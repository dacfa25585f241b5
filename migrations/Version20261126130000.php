<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Watches, the pages that they look at, and what there was to tell. */
final class Version20261126130000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE watch (
                id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT, code VARCHAR(16) NOT NULL, scope VARCHAR(8) NOT NULL, target TEXT NOT NULL, name VARCHAR(200) NOT NULL, agent VARCHAR(190) NOT NULL, made_at DATETIME(6) NOT NULL, state VARCHAR(8) NOT NULL,
                every_days DOUBLE NULL, condition_kind VARCHAR(16) NOT NULL, condition_text VARCHAR(500) NOT NULL, condition_column VARCHAR(500) NOT NULL, keeps TINYINT(1) NOT NULL, mails TINYINT(1) NOT NULL, hook_url TEXT NULL, hook_secret VARCHAR(64) NOT NULL,
                due_at DATETIME(6) NULL, due_note VARCHAR(500) NOT NULL DEFAULT '', gathered_at DATETIME(6) NULL,
                PRIMARY KEY (id), UNIQUE KEY watch_code (code), KEY watch_due (due_at)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE watched_page (
                id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT, watch_id BIGINT UNSIGNED NOT NULL, live_id BIGINT UNSIGNED NOT NULL, next_at DATETIME(6) NOT NULL, interval_days DOUBLE NOT NULL, looked_at DATETIME(6) NULL, changed_at DATETIME(6) NULL,
                seen JSON NOT NULL, etag VARCHAR(500) NULL, modified VARCHAR(100) NULL, is_blind TINYINT(1) NOT NULL DEFAULT 0, is_gone TINYINT(1) NOT NULL DEFAULT 0, job_code VARCHAR(16) NULL, pending JSON NULL, trouble VARCHAR(500) NULL,
                PRIMARY KEY (id), UNIQUE KEY watched_page_once (watch_id, live_id), KEY watched_page_next (next_at), KEY watched_page_live (live_id), KEY watched_page_job (job_code)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE watch_event (
                id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT, watch_id BIGINT UNSIGNED NOT NULL, page_id BIGINT UNSIGNED NULL, at DATETIME(6) NOT NULL, kind VARCHAR(12) NOT NULL, url TEXT NULL, said_before TEXT NOT NULL, said_after TEXT NOT NULL, more INT UNSIGNED NOT NULL DEFAULT 0,
                capture_before VARCHAR(16) NULL, capture_after VARCHAR(16) NULL, seen_at DATETIME(6) NULL, mailed_at DATETIME(6) NULL, hooked_at DATETIME(6) NULL, hook_tries TINYINT UNSIGNED NOT NULL DEFAULT 0, hook_said VARCHAR(300) NULL,
                PRIMARY KEY (id), KEY watch_event_of (watch_id, id), KEY watch_event_seen (seen_at, id), KEY watch_event_mailed (mailed_at, id)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE watch_setting (
                id TINYINT UNSIGNED NOT NULL, budget DOUBLE NOT NULL, bound DOUBLE NOT NULL, planned_at DATETIME(6) NULL, mail_to VARCHAR(190) NOT NULL, digest_at VARCHAR(5) NOT NULL, quiet_from VARCHAR(5) NOT NULL, quiet_to VARCHAR(5) NOT NULL, zone VARCHAR(64) NOT NULL, digested_at DATETIME(6) NULL,
                PRIMARY KEY (id)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql("INSERT INTO watch_setting (id, budget, bound, mail_to, digest_at, quiet_from, quiet_to, zone) VALUES (1, 500, 0, '', '08:00', '', '', 'UTC')");
    }
}
