<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Addresses whose life is looked after, each look at them, and lists of references with what is wanted of them. */
final class Version20261126110000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE live_address (
                id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT, url_hash BINARY(16) NOT NULL, key_hash BINARY(16) NOT NULL, url TEXT NOT NULL, host VARCHAR(255) NOT NULL,
                looks INT UNSIGNED NOT NULL DEFAULT 0, verdict VARCHAR(12) NULL, reason VARCHAR(16) NULL, is_final TINYINT(1) NOT NULL DEFAULT 0, confidence FLOAT NULL,
                since DATETIME(6) NULL, seen_at DATETIME(6) NULL, looked_at DATETIME(6) NULL, next_at DATETIME(6) NULL,
                wanted_at DATETIME(6) NULL, not_before DATETIME(6) NULL, tries TINYINT UNSIGNED NOT NULL DEFAULT 0, claimed_by VARCHAR(120) NULL, claimed_until DATETIME(6) NULL,
                PRIMARY KEY (id), UNIQUE KEY live_address_url (url_hash), KEY live_address_key (key_hash), KEY live_address_wanted (wanted_at, id), KEY live_address_claimed (claimed_by), KEY live_address_next (next_at), KEY live_address_host (host, verdict)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE live_look (
                live_id BIGINT UNSIGNED NOT NULL, at DATETIME(6) NOT NULL, id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT, reason VARCHAR(16) NOT NULL, status SMALLINT UNSIGNED NULL,
                final_url TEXT NOT NULL, hops JSON NOT NULL, evidence JSON NOT NULL, confidence FLOAT NOT NULL, against VARCHAR(16) NULL,
                PRIMARY KEY (live_id, at, id), UNIQUE KEY live_look_id (id)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE reference_list (
                id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT, code VARCHAR(16) NOT NULL, name VARCHAR(200) NOT NULL, format VARCHAR(12) NOT NULL, file_name VARCHAR(200) NOT NULL, bytes BIGINT UNSIGNED NOT NULL, sha256 BINARY(32) NOT NULL,
                agent VARCHAR(190) NOT NULL, made_at DATETIME(6) NOT NULL, asked_at DATETIME(6) NULL, is_cut TINYINT(1) NOT NULL DEFAULT 0, elsewhere_at DATETIME(6) NULL, elsewhere_left INT UNSIGNED NOT NULL DEFAULT 0,
                PRIMARY KEY (id), UNIQUE KEY reference_list_code (code)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE reference (
                id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT, list_id BIGINT UNSIGNED NOT NULL, position INT UNSIGNED NOT NULL, live_id BIGINT UNSIGNED NOT NULL, url TEXT NOT NULL, note VARCHAR(40) NULL, label TEXT NOT NULL, context TEXT NOT NULL, claim TEXT NOT NULL,
                accessed DATE NULL, quotes JSON NOT NULL, place JSON NOT NULL, matched_at DATETIME(6) NULL, capture_code VARCHAR(16) NULL, fit JSON NULL, elsewhere JSON NULL,
                PRIMARY KEY (id), UNIQUE KEY reference_order (list_id, position), KEY reference_live (live_id)
            ) ENGINE=InnoDB
            SQL);
    }
}
