<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** What a history is drawn from, in an index of its own: busy addresses have tens of thousands of captures. */
final class Version20261125235000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE capture ADD leads_on TINYINT(1) AS (redirect_to IS NOT NULL) PERSISTENT, ADD KEY capture_history (address_id, captured_at, status, leads_on, changed)');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
