<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Whether captures worked, and how pages are to be kept. */
final class Version20261126030000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE capture ADD verdict VARCHAR(8) CHARACTER SET ascii DEFAULT NULL, ADD completeness MEDIUMTEXT DEFAULT NULL');
        $this->addSql("ALTER TABLE capture_job ADD how VARCHAR(10) CHARACTER SET ascii NOT NULL DEFAULT 'rendered', ADD missing_of VARCHAR(16) CHARACTER SET ascii DEFAULT NULL");
    }
}
