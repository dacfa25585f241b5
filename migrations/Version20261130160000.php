<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** How many checks agree on how an address stands: of what was checked before, three where it is final, else one. */
final class Version20261130160000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE live_address ADD agreeing TINYINT UNSIGNED NOT NULL DEFAULT 0 AFTER is_final');
        $this->addSql("UPDATE live_address SET agreeing = IF(verdict = 'vanished' AND is_final = 1, 3, 1) WHERE verdict IS NOT NULL");
    }
}
