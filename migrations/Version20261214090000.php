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
        $this->addSql(<<<'SQL'
            CREATE TABLE search_question (
                id BIGINT UNSIGNED AUTO_INCREMENT NOT NULL,
                person VARCHAR(100) NOT NULL,
                digest BINARY(16) NOT NULL,
                query TEXT NOT NULL,
                asked VARCHAR(300) NOT NULL,
                is_saved TINYINT(1) NOT NULL DEFAULT 0,
                is_watched TINYINT(1) NOT NULL DEFAULT 0,
                asked_at DATETIME(6) NOT NULL,
                looked_at DATETIME(6) DEFAULT NULL,
                told_at DATETIME(6) DEFAULT NULL,
                behind BIGINT UNSIGNED NOT NULL,
                fresh INT UNSIGNED NOT NULL DEFAULT 0,
                PRIMARY KEY (id),
                UNIQUE KEY search_question_of (person, digest),
                KEY search_question_last (person, is_saved, asked_at),
                KEY search_question_watched (is_watched, looked_at)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql('ALTER TABLE queue_message ADD is_slow TINYINT(1) NOT NULL DEFAULT 0');
        $this->addSql('DROP INDEX queue_next ON queue_message');
        $this->addSql('CREATE INDEX queue_next ON queue_message (is_slow, available_at, leased_until, id)');
    }
}
