<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Addresses that a person has joined to one history; by their codes, which stay when the catalogue is made anew. */
final class Version20261125234000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE joined_address (
                address_code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, group_code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, reason VARCHAR(20) CHARACTER SET ascii NOT NULL, person VARCHAR(190) NOT NULL, joined_at DATETIME(6) NOT NULL,
                PRIMARY KEY (address_code), KEY joined_group (group_code)
            )
            SQL);
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
