<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** What of a list of references is to be led to the archive. */
final class Version20261126120000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE reference_list ADD matched_at DATETIME(6) NULL, ADD repaired_at DATETIME(6) NULL, DROP elsewhere_left');
        $this->addSql('ALTER TABLE reference ADD latest_code VARCHAR(16) NULL, ADD repair_to TEXT NULL, ADD repair_day DATE NULL');
    }
}
