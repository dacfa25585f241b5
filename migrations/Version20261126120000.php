<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What of a list of references is to be led to the archive. */
final class Version20261126120000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE reference_list ADD matched_at DATETIME(6) NULL, ADD repaired_at DATETIME(6) NULL, DROP elsewhere_left');
        $this->addSql('ALTER TABLE reference ADD latest_code VARCHAR(16) NULL, ADD repair_to TEXT NULL, ADD repair_day DATE NULL');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE reference_list DROP matched_at, DROP repaired_at, ADD elsewhere_left INT UNSIGNED NOT NULL DEFAULT 0');
        $this->addSql('ALTER TABLE reference DROP latest_code, DROP repair_to, DROP repair_day');
    }
}
