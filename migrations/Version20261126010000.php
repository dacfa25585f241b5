<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Other archives that may be asked. */
final class Version20261126010000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql('CREATE TABLE other_archive (id INT UNSIGNED AUTO_INCREMENT NOT NULL PRIMARY KEY, code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, name VARCHAR(120) NOT NULL, time_gate VARCHAR(500) NOT NULL, time_map VARCHAR(500) NOT NULL, asked TINYINT(1) NOT NULL, UNIQUE KEY other_archive_code (code))');
    }
}
