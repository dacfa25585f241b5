<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/**
 * A step of the database's form, which leads forward only: a way back would drop tables with what people wrote into them. Whoever
 * wants an older form takes an older copy.
 */
abstract class Forward extends AbstractMigration
{
    final public function down(Schema $schema): void
    {
        $this->throwIrreversibleMigrationException(
            'This step cannot be undone: the tables that it made hold what people wrote. Take an older copy of the database instead.',
        );
    }
}
