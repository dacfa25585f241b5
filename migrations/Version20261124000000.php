<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** The catalogue, the queue, the ledger's mirror. */
final class Version20261124000000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE address (
                id BIGINT UNSIGNED AUTO_INCREMENT NOT NULL, url_key VARBINARY(2048) NOT NULL, url TEXT NOT NULL, code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                captures INT UNSIGNED NOT NULL, first_at DATETIME(6) NOT NULL, last_at DATETIME(6) NOT NULL, last_alive_at DATETIME(6) DEFAULT NULL,
                PRIMARY KEY (id), UNIQUE KEY address_key (url_key), UNIQUE KEY address_code (code), KEY address_recent (last_at, id)
            )
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE warc_file (
                id INT UNSIGNED AUTO_INCREMENT NOT NULL, path VARCHAR(190) NOT NULL, sha256 BINARY(32) NOT NULL, bytes BIGINT UNSIGNED NOT NULL, origin VARCHAR(10) NOT NULL,
                given_name VARCHAR(255) NOT NULL, stored_at DATETIME(6) NOT NULL, records INT UNSIGNED NOT NULL,
                PRIMARY KEY (id), UNIQUE KEY warc_path (path), UNIQUE KEY warc_sha256 (sha256)
            )
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE capture (
                id BIGINT UNSIGNED AUTO_INCREMENT NOT NULL, address_id BIGINT UNSIGNED NOT NULL, captured_at DATETIME(6) NOT NULL, code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                url TEXT NOT NULL, warc_file_id INT UNSIGNED NOT NULL, response_offset BIGINT UNSIGNED NOT NULL, status SMALLINT UNSIGNED NOT NULL, title VARCHAR(500) DEFAULT NULL,
                mime VARCHAR(100) DEFAULT NULL, parts INT UNSIGNED NOT NULL, bytes BIGINT UNSIGNED NOT NULL, payload_sha256 BINARY(32) DEFAULT NULL, dom_offset BIGINT UNSIGNED DEFAULT NULL,
                text_offset BIGINT UNSIGNED DEFAULT NULL, redirect_to TEXT DEFAULT NULL, agent VARCHAR(190) NOT NULL, how VARCHAR(16) NOT NULL, changed DOUBLE DEFAULT NULL,
                PRIMARY KEY (address_id, captured_at, id), UNIQUE KEY capture_id (id), UNIQUE KEY capture_code (code), KEY capture_recent (captured_at, id), KEY capture_file (warc_file_id, response_offset),
                CONSTRAINT capture_address FOREIGN KEY (address_id) REFERENCES address (id), CONSTRAINT capture_warc FOREIGN KEY (warc_file_id) REFERENCES warc_file (id)
            )
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE record (
                warc_file_id INT UNSIGNED NOT NULL, at_offset BIGINT UNSIGNED NOT NULL, role VARCHAR(10) CHARACTER SET ascii NOT NULL, url_hash BINARY(16) NOT NULL, key_hash BINARY(16) NOT NULL,
                captured_at DATETIME(6) NOT NULL, method VARCHAR(8) NOT NULL, status SMALLINT UNSIGNED NOT NULL, mime VARCHAR(100) NOT NULL, length BIGINT UNSIGNED NOT NULL,
                payload_sha256 BINARY(32) DEFAULT NULL, url TEXT NOT NULL,
                PRIMARY KEY (warc_file_id, at_offset), KEY record_url (url_hash, captured_at), KEY record_key (key_hash, captured_at), KEY record_payload (payload_sha256),
                CONSTRAINT record_warc FOREIGN KEY (warc_file_id) REFERENCES warc_file (id)
            )
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE capture_job (
                id BIGINT UNSIGNED AUTO_INCREMENT NOT NULL, code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, url TEXT NOT NULL, stage VARCHAR(12) NOT NULL, reason VARCHAR(24) DEFAULT NULL,
                message TEXT DEFAULT NULL, attempts SMALLINT UNSIGNED NOT NULL, requested_at DATETIME(6) NOT NULL, finished_at DATETIME(6) DEFAULT NULL, capture_code VARCHAR(16) DEFAULT NULL, agent VARCHAR(190) NOT NULL,
                PRIMARY KEY (id), UNIQUE KEY job_code (code), KEY job_open (finished_at, id)
            )
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE ledger_line (
                seq BIGINT UNSIGNED NOT NULL, hash BINARY(32) NOT NULL, kind VARCHAR(32) NOT NULL, subject VARCHAR(190) NOT NULL, at DATETIME(6) NOT NULL, ends_at BIGINT UNSIGNED NOT NULL, line MEDIUMTEXT NOT NULL,
                PRIMARY KEY (seq), KEY ledger_subject (subject, seq)
            )
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE verification (
                id BIGINT UNSIGNED AUTO_INCREMENT NOT NULL, code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, started_at DATETIME(6) NOT NULL, finished_at DATETIME(6) DEFAULT NULL,
                files INT UNSIGNED NOT NULL, files_done INT UNSIGNED NOT NULL, records INT UNSIGNED NOT NULL, ledger_lines INT UNSIGNED NOT NULL, findings LONGTEXT NOT NULL,
                PRIMARY KEY (id), UNIQUE KEY verification_code (code)
            )
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE queue_message (
                id BIGINT UNSIGNED AUTO_INCREMENT NOT NULL, body LONGTEXT NOT NULL, headers TEXT NOT NULL, available_at DATETIME(6) NOT NULL, leased_until DATETIME(6) DEFAULT NULL, leased_by VARCHAR(120) DEFAULT NULL, deliveries SMALLINT UNSIGNED NOT NULL,
                PRIMARY KEY (id), KEY queue_next (available_at, leased_until, id)
            )
            SQL);
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
