<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** What was sent with a request, so that an answer to a form is told from others of its address. */
final class Version20261125230000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE record ADD request_sha256 BINARY(32) DEFAULT NULL');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
