<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Whole sites: what is to be kept, and what became of it. */
final class Version20261126060000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE crawl (
                id BIGINT UNSIGNED AUTO_INCREMENT NOT NULL, code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, name VARCHAR(200) NOT NULL, seeds MEDIUMTEXT NOT NULL, scope MEDIUMTEXT NOT NULL,
                how VARCHAR(10) CHARACTER SET ascii NOT NULL, obey TINYINT(1) NOT NULL, overruled VARCHAR(500) DEFAULT NULL, pause INT UNSIGNED NOT NULL, maps TINYINT(1) NOT NULL,
                most_pages INT UNSIGNED NOT NULL, most_bytes BIGINT UNSIGNED NOT NULL, most_seconds INT UNSIGNED NOT NULL, agent VARCHAR(190) NOT NULL, made_at DATETIME(6) NOT NULL,
                state VARCHAR(10) CHARACTER SET ascii NOT NULL, ended VARCHAR(16) CHARACTER SET ascii DEFAULT NULL, run INT UNSIGNED NOT NULL, running_since DATETIME(6) DEFAULT NULL, seconds INT UNSIGNED NOT NULL,
                finished_at DATETIME(6) DEFAULT NULL, pages INT UNSIGNED NOT NULL, parts INT UNSIGNED NOT NULL, again INT UNSIGNED NOT NULL, bytes BIGINT UNSIGNED NOT NULL, outside INT UNSIGNED NOT NULL,
                PRIMARY KEY (id), UNIQUE KEY crawl_code (code), KEY crawl_state (state, id)
            )
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE crawl_page (
                id BIGINT UNSIGNED AUTO_INCREMENT NOT NULL, crawl_id BIGINT UNSIGNED NOT NULL, key_hash BINARY(16) NOT NULL, url MEDIUMTEXT NOT NULL, host VARCHAR(255) NOT NULL, role VARCHAR(8) CHARACTER SET ascii NOT NULL,
                depth SMALLINT UNSIGNED NOT NULL, via VARCHAR(8) CHARACTER SET ascii NOT NULL, parent_id BIGINT UNSIGNED DEFAULT NULL, kind BINARY(8) DEFAULT NULL, state VARCHAR(8) CHARACTER SET ascii NOT NULL,
                reason VARCHAR(24) CHARACTER SET ascii DEFAULT NULL, message TEXT DEFAULT NULL, status SMALLINT UNSIGNED DEFAULT NULL, verdict VARCHAR(8) CHARACTER SET ascii DEFAULT NULL, slot_id BIGINT UNSIGNED DEFAULT NULL,
                attempts SMALLINT UNSIGNED NOT NULL DEFAULT 0, not_before DATETIME(6) DEFAULT NULL, segment_id BIGINT UNSIGNED DEFAULT NULL, at_offset BIGINT UNSIGNED DEFAULT NULL,
                PRIMARY KEY (id), UNIQUE KEY crawl_page_key (crawl_id, key_hash), KEY crawl_page_next (crawl_id, state, depth, id), KEY crawl_page_kind (crawl_id, kind, state), KEY crawl_page_reason (crawl_id, state, reason, id), KEY crawl_page_slot (slot_id, state)
            )
            SQL);
        $this->addSql('CREATE TABLE crawl_host (crawl_id BIGINT UNSIGNED NOT NULL, host VARCHAR(255) NOT NULL, next_at DATETIME(6) NOT NULL, strain SMALLINT UNSIGNED NOT NULL, PRIMARY KEY (crawl_id, host))');
        $this->addSql('CREATE TABLE crawl_part (crawl_id BIGINT UNSIGNED NOT NULL, url_hash BINARY(16) NOT NULL, outcome VARCHAR(16) CHARACTER SET ascii NOT NULL, gaps MEDIUMTEXT DEFAULT NULL, PRIMARY KEY (crawl_id, url_hash))');
        $this->addSql('CREATE TABLE crawl_kind (crawl_id BIGINT UNSIGNED NOT NULL, kind BINARY(8) NOT NULL, name TEXT NOT NULL, pages INT UNSIGNED NOT NULL, idle INT UNSIGNED NOT NULL, closed TINYINT(1) NOT NULL, seen MEDIUMBLOB NOT NULL, PRIMARY KEY (crawl_id, kind), KEY crawl_kind_closed (crawl_id, closed))');
        $this->addSql('CREATE TABLE crawl_slot (id BIGINT UNSIGNED AUTO_INCREMENT NOT NULL, crawl_id BIGINT UNSIGNED NOT NULL, run INT UNSIGNED NOT NULL, turn INT UNSIGNED NOT NULL, PRIMARY KEY (id), KEY crawl_slot_crawl (crawl_id))');
        $this->addSql('CREATE TABLE crawl_segment (id BIGINT UNSIGNED AUTO_INCREMENT NOT NULL, crawl_id BIGINT UNSIGNED NOT NULL, slot_id BIGINT UNSIGNED NOT NULL, path VARCHAR(190) CHARACTER SET ascii NOT NULL, info VARCHAR(60) CHARACTER SET ascii NOT NULL, state VARCHAR(8) CHARACTER SET ascii NOT NULL, bytes BIGINT UNSIGNED NOT NULL, pages INT UNSIGNED NOT NULL, begun_at DATETIME(6) NOT NULL, file_id BIGINT UNSIGNED DEFAULT NULL, PRIMARY KEY (id), KEY crawl_segment_crawl (crawl_id, state), KEY crawl_segment_slot (slot_id, state))');
    }
}
