<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/** What the screens of a site ask for, for sites of any size. */
final class Version20261126080000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE crawl_page ADD KEY crawl_page_counts (crawl_id, role, state, verdict), ADD KEY crawl_page_order (crawl_id, role, id)');
    }
}
