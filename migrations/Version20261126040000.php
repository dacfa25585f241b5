<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Many pages at once. */
final class Version20261126040000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql('CREATE TABLE capture_list (id BIGINT UNSIGNED AUTO_INCREMENT NOT NULL PRIMARY KEY, code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, name VARCHAR(200) NOT NULL, state VARCHAR(10) CHARACTER SET ascii NOT NULL, obey TINYINT(1) NOT NULL, overruled VARCHAR(500) DEFAULT NULL, agent VARCHAR(190) NOT NULL, made_at DATETIME(6) NOT NULL, finished_at DATETIME(6) DEFAULT NULL, UNIQUE KEY capture_list_code (code))');
        $this->addSql('ALTER TABLE record ADD cut TINYINT(1) NOT NULL DEFAULT 0');
        $this->addSql("ALTER TABLE capture_job ADD list_id BIGINT UNSIGNED DEFAULT NULL, ADD host VARCHAR(255) CHARACTER SET ascii NOT NULL DEFAULT '', ADD not_before DATETIME(6) DEFAULT NULL, ADD KEY job_list (list_id, stage, id), ADD KEY job_list_host (list_id, host, finished_at)");
    }
}
