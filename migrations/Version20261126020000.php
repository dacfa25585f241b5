<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** What the histories of busy addresses are drawn from. */
final class Version20261126020000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql('CREATE TABLE history_summary (summary_key BINARY(16) NOT NULL PRIMARY KEY, of VARCHAR(40) CHARACTER SET ascii NOT NULL, summary MEDIUMTEXT CHARACTER SET utf8mb4 NOT NULL)');
    }
}
