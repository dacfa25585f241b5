<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Whether a capture worked stands with its job: lists count their pages by it. A parcel has for whom it is put together. */
final class Version20261130020000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE capture_job ADD verdict VARCHAR(8) DEFAULT NULL');
        $this->addSql('ALTER TABLE parcel ADD person VARCHAR(190) DEFAULT NULL');
        $this->addSql('UPDATE capture_job j JOIN capture c ON c.code = j.capture_code SET j.verdict = c.verdict');
    }
}
