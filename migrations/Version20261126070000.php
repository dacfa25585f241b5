<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** What people write beside a capture in the same step, how much of a page they want, and what they chose last. */
final class Version20261126070000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql('CREATE TABLE slip (id BIGINT UNSIGNED AUTO_INCREMENT NOT NULL, job_id BIGINT UNSIGNED DEFAULT NULL, capture_code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin DEFAULT NULL, title VARCHAR(500) NOT NULL, why TEXT NOT NULL, person VARCHAR(190) NOT NULL, written_at DATETIME(6) NOT NULL, PRIMARY KEY (id), UNIQUE KEY slip_job (job_id), UNIQUE KEY slip_capture (capture_code))');
        $this->addSql('CREATE TABLE tag (id BIGINT UNSIGNED AUTO_INCREMENT NOT NULL, name VARCHAR(100) NOT NULL, last_at DATETIME(6) NOT NULL, PRIMARY KEY (id), UNIQUE KEY tag_name (name), KEY tag_last (last_at))');
        $this->addSql('CREATE TABLE slip_tag (slip_id BIGINT UNSIGNED NOT NULL, tag_id BIGINT UNSIGNED NOT NULL, PRIMARY KEY (slip_id, tag_id), KEY slip_tag_tag (tag_id, slip_id))');
        $this->addSql('CREATE TABLE choice (person VARCHAR(190) NOT NULL, choices MEDIUMTEXT NOT NULL, PRIMARY KEY (person))');
        $this->addSql('ALTER TABLE capture_job ADD options MEDIUMTEXT DEFAULT NULL, ADD secrets MEDIUMTEXT DEFAULT NULL');
    }
}
