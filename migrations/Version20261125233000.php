<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Looking up by words of address and title, and why there is nothing. */
final class Version20261125233000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE address ADD FULLTEXT KEY address_words (url)');
        $this->addSql('ALTER TABLE capture ADD FULLTEXT KEY capture_words (title)');
        $this->addSql('ALTER TABLE capture_job ADD key_hash BINARY(16) NOT NULL DEFAULT 0, ADD KEY job_key (key_hash, id)');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
