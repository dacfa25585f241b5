<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** As what a page is to be seen. */
final class Version20261126050000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE capture_job ADD phone TINYINT(1) NOT NULL DEFAULT 0, ADD without_scripts TINYINT(1) NOT NULL DEFAULT 0');
    }
}
