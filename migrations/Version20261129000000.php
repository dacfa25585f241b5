<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Lines of one kind are looked for among all. */
final class Version20261129000000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE ledger_line ADD KEY ledger_kind (kind, seq)');
    }
}
