<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Of what somebody was reminded is asked by their name. */
final class Version20261211090000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE reminder ADD KEY reminder_person (person, reminded_at)');
    }
}
