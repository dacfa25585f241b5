<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** The place on a page that was asked for with it: it is opened there. */
final class Version20261130010000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE capture ADD fragment VARCHAR(500) DEFAULT NULL');
    }
}
