<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/**
 * Whether a capture worked stands with its job: lists count their pages by it. How a page is captured stands in one place of its
 * job. A parcel has for whom it is put together.
 */
final class Version20261130020000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE capture_job ADD verdict VARCHAR(8) DEFAULT NULL');
        $this->addSql(<<<'SQL'
            UPDATE capture_job SET options = JSON_MERGE_PATCH(
                COALESCE(options, '{}'),
                IF(phone = 1, '{"phone": true}', '{}'),
                IF(without_scripts = 1, '{"scripts": false}', '{}'),
                IF(JSON_VALUE(options, '$.scroll') = 'no', '{"scroll": false}', '{}'),
                IF(JSON_VALUE(options, '$.fields') = 'everywhere', '{"fields": null, "fieldsEverywhere": true}', '{}')
            ) WHERE options IS NOT NULL OR phone = 1 OR without_scripts = 1
            SQL);
        $this->addSql('ALTER TABLE capture_job DROP phone, DROP without_scripts');
        $this->addSql('ALTER TABLE parcel ADD person VARCHAR(190) DEFAULT NULL');
        $this->addSql('UPDATE capture_job j JOIN capture c ON c.code = j.capture_code SET j.verdict = c.verdict');
    }
}
