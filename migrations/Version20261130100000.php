<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/**
 * The database of the first release, as `first-release.sql` has it. A database that was made before, by the steps that stood here until
 * then, is brought to the same form.
 */
final class Version20261130100000 extends Forward
{
    /** The last of the steps before. */
    private const BEFORE = 'Ypomna\Migrations\Version20261130010000';
    /** What messages to workers were called before: whatever waits in the queue is still done. */
    private const MESSAGES = [
        'Archives\FetchMemento' => 'Archives\Message\FetchMemento',
        'Capture\KeepPage' => 'Capture\Message\CapturePage',
        'Capture\Lists\WorkList' => 'Capture\Message\WorkOnList',
        'Capture\Sites\WorkCrawl' => 'Capture\Message\WorkOnCrawl',
        'Compare\DescribeFile' => 'Compare\Message\DescribeFile',
        'Compare\DrawLifelines' => 'Compare\Message\DrawLifelines',
        'Compare\MeasureAgain' => 'Compare\Message\MeasureAgain',
        'Compare\TakeFingerprints' => 'Compare\Message\TakeFingerprints',
        'Custody\PutTogether' => 'Exchange\Message\BuildParcel',
        'Custody\TakeInFile' => 'Exchange\Message\ImportFile',
        'Custody\VerifyHoldings' => 'Exchange\Message\VerifyHoldings',
        'Reference\LookAround' => 'Liveness\Message\CheckQueuedAddresses',
        'Reference\MatchReferences' => 'References\Message\MatchReferences',
        'Watch\CallHook' => 'Watch\Message\CallHook',
    ];

    public function up(Schema $schema): void
    {
        if (false === $this->connection->fetchOne("SHOW TABLES LIKE 'capture'")) {
            $this->fresh();

            return;
        }
        $this->abortIf(
            false === $this->connection->fetchOne('SELECT 1 FROM migration WHERE version = ?', [self::BEFORE]),
            'This database was made by an older version than this one can take over. Start the version before this one once, then this'
                .' one.',
        );
        $this->jobs();
        $this->names();
        $this->addSql('ALTER TABLE parcel ADD person VARCHAR(190) DEFAULT NULL');
        // As JSON writes the name of a class.
        $name = static fn (string $class): string => str_replace('\\', '\\\\', '"Ypomna\App\\'.$class.'"');
        foreach (self::MESSAGES as $old => $new) {
            $this->addSql(
                'UPDATE queue_message SET body = REPLACE(body, ?, ?) WHERE INSTR(body, ?) > 0', [$name($old), $name($new), $name($old)],
            );
        }
        $this->addSql('DELETE FROM migration WHERE version <= ?', [self::BEFORE]);
    }

    private function fresh(): void
    {
        $statements = (string) file_get_contents(__DIR__.'/first-release.sql');
        foreach (array_filter(
            array_map(trim(...), explode(";\n", $statements)), static fn (string $one): bool => '' !== $one,
        ) as $statement) {
            $this->addSql($statement);
        }
        $this->addSql('INSERT INTO fingerprint_reach (id, behind) VALUES (1, 0)');
        $this->addSql(<<<'SQL'
            INSERT INTO watch_setting (id, budget, bound, mail_to, digest_at, quiet_from, quiet_to, zone)
            VALUES (1, 500, 0, '', '08:00', '', '', 'UTC')
            SQL);
    }

    /** How a page is captured stands in one place of its job, and so does whether the capture worked: lists count their pages by it. */
    private function jobs(): void
    {
        $this->addSql('ALTER TABLE capture_job ADD verdict VARCHAR(8) DEFAULT NULL');
        $this->addSql('UPDATE capture_job j JOIN capture c ON c.code = j.capture_code SET j.verdict = c.verdict');
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
    }

    /** Tables and columns have the names of what is in them. */
    private function names(): void
    {
        foreach ([
            'RENAME TABLE slip TO capture_description, slip_tag TO capture_description_tag, last_look TO last_viewed,
                live_look TO live_check',
            'ALTER TABLE capture_description RENAME KEY slip_job TO description_job, RENAME KEY slip_capture TO description_capture',
            'ALTER TABLE capture_description_tag RENAME COLUMN slip_id TO description_id, RENAME KEY slip_tag_tag TO description_tag',
            'ALTER TABLE last_viewed RENAME COLUMN looked_at TO viewed_at',
            'ALTER TABLE live_check RENAME KEY live_look_id TO live_check_id',
            'ALTER TABLE live_address RENAME COLUMN looks TO checks, RENAME COLUMN looked_at TO checked_at',
            'ALTER TABLE watched_page RENAME COLUMN looked_at TO checked_at',
        ] as $statement) {
            $this->addSql($statement);
        }
    }
}
