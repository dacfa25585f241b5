<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** How far captures were read for their fingerprints, so that none is looked for among millions that have one. */
final class Version20261126100000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql('CREATE TABLE fingerprint_reach (id TINYINT UNSIGNED NOT NULL, behind BIGINT UNSIGNED NOT NULL, PRIMARY KEY (id)) ENGINE=InnoDB');
        $this->addSql('INSERT INTO fingerprint_reach (id, behind) VALUES (1, 0)');
    }
}
