<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Codes by which a browser is paired; tokens have names, and it is known when they were used last. */
final class Version20261212090000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE pairing (
                hash BINARY(32) NOT NULL,
                person_id INT UNSIGNED NOT NULL,
                made_at DATETIME(6) NOT NULL,
                PRIMARY KEY (hash),
                UNIQUE KEY pairing_of (person_id),
                KEY pairing_made (made_at),
                CONSTRAINT pairing_person FOREIGN KEY (person_id) REFERENCES person (id)
            ) ENGINE=InnoDB
            SQL);
        $this->addSql(
            "ALTER TABLE person_token ADD name VARCHAR(120) NOT NULL DEFAULT '', ADD used_at DATETIME(6) DEFAULT NULL,"
                .' ADD KEY person_token_of (person_id, made_at)',
        );
    }
}
