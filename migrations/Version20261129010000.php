<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Parcels that wait are counted before another one is taken on. */
final class Version20261129010000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE parcel ADD KEY parcel_state (state, id)');
    }
}
