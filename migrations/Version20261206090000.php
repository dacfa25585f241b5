<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** On how many pages each word stands, against which the words of a page are weighed; and tags that somebody has always on. */
final class Version20261206090000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE page_word (
                word VARCHAR(40) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
                pages INT UNSIGNED NOT NULL,
                PRIMARY KEY (word)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE page_word_reach (
                id TINYINT UNSIGNED NOT NULL,
                behind BIGINT UNSIGNED NOT NULL,
                pages INT UNSIGNED NOT NULL,
                PRIMARY KEY (id)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql('INSERT INTO page_word_reach (id, behind, pages) VALUES (1, 0, 0)');
        $this->addSql(<<<'SQL'
            CREATE TABLE always_tag (
                person VARCHAR(100) COLLATE utf8mb4_bin NOT NULL,
                tag_id BIGINT UNSIGNED NOT NULL,
                PRIMARY KEY (person, tag_id),
                KEY always_tag_of (tag_id)
            ) ENGINE=InnoDB
            SQL);
    }
}
