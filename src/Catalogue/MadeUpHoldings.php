<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\Connection;

/**
 * Captures by the million, to try how the application behaves with many: rows that the database makes itself, no files behind them.
 * One address has by far the most of them.
 */
final readonly class MadeUpHoldings
{
    public const FEWEST = 1_000;
    private const AT_ONCE = 500_000;
    /** Of all captures, those of the one address. */
    private const BUSY_SHARE = 0.2;
    private const MOST_BUSY = 57_000;
    private const CODE = "CONCAT('22', REPLACE(REPLACE(LPAD(CONV(seq, 10, 8), 10, 'a'), '0', 'b'), '1', 'c'))";
    private const CAPTURES = <<<'SQL'
        INSERT INTO capture (
            id, address_id, captured_at, code, url, warc_file_id, response_offset, status, title, mime, parts, bytes, agent, how, changed
        )
        SQL;
    private const HOST = "CONCAT('host', FLOOR(seq / 200))";

    public function __construct(private Connection $database)
    {
    }

    public function isPossible(): bool
    {
        return false === $this->database->fetchOne('SELECT id FROM warc_file LIMIT 1');
    }

    /**
     * @param int $captures at least `FEWEST`; a tenth as many addresses are made, and as many files
     *
     * @return int how many of them the first address has
     */
    public function fill(int $captures): int
    {
        $tenth = intdiv($captures, 10);
        $busy = (int) min(self::MOST_BUSY, self::BUSY_SHARE * $captures);
        // Words are indexed in one go afterwards: a row at a time takes many times as long.
        foreach ([
            'SET foreign_key_checks = 0', 'ALTER TABLE address DROP KEY address_words', 'ALTER TABLE capture DROP KEY capture_words',
            // Made anew without that index: else what is indexed afterwards is not found.
            'ALTER TABLE address FORCE', 'ALTER TABLE capture FORCE',
        ] as $sql) {
            $this->database->executeStatement($sql);
        }
        try {
            $this->files($tenth);
            $this->addresses($tenth);
            for ($from = 1, $rest = $captures - $busy; $from <= $rest; $from += self::AT_ONCE) {
                $this->captures($from, min($rest, $from + self::AT_ONCE - 1), $tenth);
            }
            $this->busy($captures - $busy, $busy, $tenth);
        } finally {
            foreach ([
                'ALTER TABLE address ADD FULLTEXT KEY address_words (url)', 'ALTER TABLE capture ADD FULLTEXT KEY capture_words (title)',
                'SET foreign_key_checks = 1', 'ANALYZE TABLE warc_file, address, capture',
            ] as $sql) {
                $this->database->executeQuery($sql)->free();
            }
        }

        return $busy;
    }

    private function files(int $files): void
    {
        $this->database->executeStatement(<<<SQL
            INSERT INTO warc_file (id, path, sha256, bytes, origin, given_name, stored_at, records)
            SELECT seq, CONCAT('made-up/', seq, '.warc.gz'), UNHEX(SHA2(seq, 256)), 1, 'own', 'made-up', '2024-01-01', 1
            FROM seq_1_to_{$files}
            SQL);
    }

    private function addresses(int $addresses): void
    {
        [$host, $code] = [self::HOST, self::CODE];
        $this->database->executeStatement(<<<SQL
            INSERT INTO address (id, url_key, url, code, captures, first_at, last_at, last_alive_at, open_last_at)
            SELECT
                seq, CONCAT('test!', {$host}, ' /folder/page-', seq), CONCAT('http://', {$host}, '.test/folder/page-', seq), {$code},
                10, '2015-01-01', '2024-12-01', '2024-12-01', '2024-12-01'
            FROM seq_1_to_{$addresses}
            SQL);
    }

    private function captures(int $from, int $to, int $addresses): void
    {
        [$into, $code] = [self::CAPTURES, self::CODE];
        $this->database->executeStatement(<<<SQL
            {$into}
            SELECT
                seq, 2 + MOD(seq, {$addresses} - 1),
                '2015-01-01' + INTERVAL FLOOR(seq / {$addresses}) YEAR + INTERVAL MOD(seq, 86400) SECOND,
                CONCAT('33', SUBSTRING({$code}, 3)), 'http://host.test/', 1 + MOD(seq, {$addresses}), seq, 200,
                CONCAT('notice', MOD(seq * 7919, 50000), ' berth', MOD(seq, 977), ' of the harbour'), 'text/html', 5, 100000, 'x',
                'rendered', 0.1
            FROM seq_{$from}_to_{$to}
            SQL);
    }

    private function busy(int $rest, int $busy, int $files): void
    {
        [$into, $code] = [self::CAPTURES, self::CODE];
        $this->database->executeStatement(<<<SQL
            {$into}
            SELECT
                {$rest} + seq, 1, '2015-01-01' + INTERVAL seq * 92 MINUTE, CONCAT('44', SUBSTRING({$code}, 3)),
                'http://host0.test/folder/page-1', 1 + MOD(seq, {$files}), {$rest} + seq, IF(MOD(seq, 97) = 0, 404, 200),
                'The timetable', 'text/html', 5, 100000, 'x', 'rendered', IF(MOD(seq, 40) = 0, 0.3, 0)
            FROM seq_1_to_{$busy}
            SQL);
        $this->database->executeStatement(<<<SQL
            UPDATE address
            SET captures = {$busy}, first_at = '2015-01-01 01:32:00', last_at = '2024-12-21', open_last_at = '2024-12-21'
            WHERE id = 1
            SQL);
    }
}
