<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Records are found by their ids, and revisits told from what they refer to. */
final class Version20261125000000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE record ADD record_id_hash BINARY(8) NOT NULL DEFAULT 0, ADD revisit TINYINT(1) NOT NULL DEFAULT 0, ADD KEY record_id (record_id_hash)');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
