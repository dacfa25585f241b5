<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** What comparing needs: rules about noise, what was looked at last, lifelines of pages, and fingerprints of their texts. */
final class Version20261126090000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE noise_rule (
              id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT, code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, scope VARCHAR(8) NOT NULL, place TEXT NOT NULL, place_hash BINARY(16) NOT NULL,
              kind VARCHAR(8) NOT NULL, selector VARCHAR(1000) NOT NULL DEFAULT '', quote VARCHAR(1000) NOT NULL DEFAULT '', pattern VARCHAR(500) NOT NULL DEFAULT '', note VARCHAR(1000) NOT NULL DEFAULT '',
              person VARCHAR(190) NOT NULL, created_at DATETIME(6) NOT NULL, ended_at DATETIME(6) DEFAULT NULL,
              PRIMARY KEY (id), UNIQUE KEY noise_rule_code (code), KEY noise_rule_place (place_hash, ended_at)
            ) DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin ENGINE=InnoDB
            SQL);
        $this->addSql('CREATE TABLE last_look (address_code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, capture_code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, looked_at DATETIME(6) NOT NULL, PRIMARY KEY (address_code)) ENGINE=InnoDB');
        $this->addSql('CREATE TABLE lifeline (address_id BIGINT UNSIGNED NOT NULL, captures INT UNSIGNED NOT NULL, packed LONGBLOB NOT NULL, PRIMARY KEY (address_id)) ENGINE=InnoDB');
        $this->addSql('CREATE TABLE fingerprint (capture_id BIGINT UNSIGNED NOT NULL, hashes VARBINARY(128) NOT NULL, PRIMARY KEY (capture_id)) ENGINE=InnoDB');
        $this->addSql('CREATE TABLE fingerprint_band (band TINYINT UNSIGNED NOT NULL, value INT UNSIGNED NOT NULL, capture_id BIGINT UNSIGNED NOT NULL, PRIMARY KEY (band, value, capture_id), KEY fingerprint_band_capture (capture_id)) ENGINE=InnoDB');
    }
}
