<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** Files that are handed in belong to somebody, come to a digest if one was promised, and are given up when nothing comes any more. */
final class Version20261129020000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql("ALTER TABLE arrival ADD owner VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '', ADD promised BINARY(32) NULL, ADD touched_at DATETIME(6) NULL");
        $this->addSql('UPDATE arrival SET touched_at = begun_at');
        $this->addSql('ALTER TABLE arrival MODIFY touched_at DATETIME(6) NOT NULL, ADD KEY arrival_touched (state, touched_at)');
    }
}
