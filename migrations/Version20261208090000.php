<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Of what is due somebody is reminded once, and a page that is to be captured again is. */
final class Version20261208090000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE reminder (
                id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT,
                item_id BIGINT UNSIGNED NOT NULL,
                due DATE NOT NULL,
                person VARCHAR(100) COLLATE utf8mb4_bin NOT NULL,
                job VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin DEFAULT NULL,
                reminded_at DATETIME(6) NOT NULL,
                PRIMARY KEY (id),
                UNIQUE KEY reminder_of (item_id, due),
                KEY reminder_job (job),
                CONSTRAINT reminder_item FOREIGN KEY (item_id) REFERENCES item (id)
            ) ENGINE=InnoDB
            SQL);
    }
}
