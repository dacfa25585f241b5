<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Words in pictures and recordings, each file read once; and work that waits until nothing else has to be done. */
final class Version20261214090000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE search_reading (
                digest BINARY(32) NOT NULL,
                means TINYINT UNSIGNED NOT NULL,
                body LONGBLOB NOT NULL,
                failure VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                PRIMARY KEY (digest),
                KEY search_reading_failure (failure)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE search_shown (
                capture_id BIGINT UNSIGNED NOT NULL,
                digest BINARY(32) NOT NULL,
                passage INT NOT NULL,
                is_lent TINYINT(1) NOT NULL,
                PRIMARY KEY (capture_id, digest),
                KEY search_shown_lent (digest, is_lent)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql('ALTER TABLE search_stand ADD to_read TINYINT(1) NOT NULL DEFAULT 0, ADD KEY search_stand_read (to_read,'
            .' capture_id)');
        $this->addSql("ALTER TABLE search_text ADD likeness VARBINARY(128) NOT NULL DEFAULT ''");
        // What is there is gone through once more, for its pictures and for what it is like.
        $this->addSql('UPDATE search_stand SET to_read = 1, is_due = 1');
        $this->addSql('ALTER TABLE queue_message ADD is_slow TINYINT(1) NOT NULL DEFAULT 0');
        $this->addSql('DROP INDEX queue_next ON queue_message');
        $this->addSql('CREATE INDEX queue_next ON queue_message (is_slow, available_at, leased_until, id)');
    }
}
