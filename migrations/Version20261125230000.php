<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What was sent with a request, so that an answer to a form is told from others of its address. */
final class Version20261125230000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE record ADD request_sha256 BINARY(32) DEFAULT NULL');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE record DROP request_sha256');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
