<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\Connection;
use Ypomna\App\Catalogue\Value\ScanFacts;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Row;

/**
 * The pages of one file on their way into the catalogue. They are gathered in tables of this connection alone, and settled
 * there when the whole file is known, so that a file may hold any number of them.
 */
final readonly class PagesOfFile
{
    public const PAGES = 'scan_page';
    public const NOTES = 'scan_note';
    private const AT_ONCE = 1_000;
    private const NEVER = "'0000-01-01'";

    public function __construct(private Connection $database, private GivenCodes $codes)
    {
    }

    public function begin(): void
    {
        $this->end();
        $this->database->executeStatement('CREATE TEMPORARY TABLE '.self::PAGES.<<<'SQL'
             (
                response_offset BIGINT UNSIGNED NOT NULL, record_id MEDIUMBLOB NOT NULL, record_hash BINARY(8) NOT NULL,
                code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                url_key VARBINARY(2048) NOT NULL, key_hash BINARY(16) NOT NULL, address_url MEDIUMTEXT NOT NULL,
                address_code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
                url MEDIUMTEXT NOT NULL, captured_at DATETIME(6) NOT NULL, status SMALLINT UNSIGNED NOT NULL,
                mime VARCHAR(100) DEFAULT NULL, payload_sha256 BINARY(32) DEFAULT NULL,
                redirect_to MEDIUMTEXT DEFAULT NULL, opened TINYINT(1) NOT NULL, dom_offset BIGINT UNSIGNED DEFAULT NULL,
                text_offset BIGINT UNSIGNED DEFAULT NULL, title VARCHAR(500) DEFAULT NULL,
                verdict VARCHAR(8) CHARACTER SET ascii DEFAULT NULL, completeness MEDIUMTEXT DEFAULT NULL,
                fragment VARCHAR(500) DEFAULT NULL,
                PRIMARY KEY (response_offset), KEY (record_hash), KEY (code), KEY (key_hash)
            )
            SQL);
        $this->database->executeStatement('CREATE TEMPORARY TABLE '.self::NOTES.<<<'SQL'
             (
                id BIGINT UNSIGNED AUTO_INCREMENT NOT NULL, record_hash BINARY(8) NOT NULL, role VARCHAR(10) CHARACTER SET ascii NOT NULL,
                at_offset BIGINT UNSIGNED NOT NULL, title VARCHAR(500) DEFAULT NULL, completeness MEDIUMTEXT DEFAULT NULL,
                PRIMARY KEY (id), KEY (record_hash)
            )
            SQL);
    }

    public function end(): void
    {
        $this->database->executeStatement('DROP TEMPORARY TABLE IF EXISTS '.self::PAGES.', '.self::NOTES);
    }

    /**
     * Enters them as captures of their addresses.
     *
     * @param string $path of the file in the store
     * @param string $sha256 of the file
     * @param array<int, string> $given codes that the ledger has for its pages, by place
     *
     * @return int how many are no redirects
     */
    public function enter(int $file, string $path, string $sha256, ScanFacts $facts, CodeSource $source, array $given): int
    {
        $this->applyNotes();
        $this->applyGiven($given, $source);
        if (CodeSource::Digests === $source) {
            $this->assignCodes($sha256);
        }
        $proper = $this->number('SELECT COUNT(*) FROM '.self::PAGES.' WHERE redirect_to IS NULL');
        $this->enterAddresses();
        $this->enterCaptures($file, $facts, 1 === $proper);
        if (CodeSource::Digests !== $source) {
            $this->codes->enter($path, $this->newCaptures($given), CodeSource::Random === $source ? $this->newAddresses() : []);
        }

        return $proper;
    }

    /**
     * @param array<int, string> $given
     */
    private function applyGiven(array $given, CodeSource $source): void
    {
        foreach (array_chunk($given, self::AT_ONCE, true) as $some) {
            $cases = array_map(static fn (int $offset, string $code): string => "WHEN {$offset} THEN '{$code}'", array_keys($some), $some);
            $this->database->executeStatement(
                'UPDATE '.self::PAGES.' SET code = CASE response_offset '.implode(' ', $cases).' ELSE code END WHERE response_offset IN ('
                    .implode(',', array_keys($some)).')',
            );
        }
        if (CodeSource::Random !== $source) {
            $this->database->executeStatement(
                'UPDATE '.self::PAGES.' p JOIN '.GivenCodes::TABLE.' g ON g.key_hash = p.key_hash SET p.address_code = g.code',
            );
        }
    }

    /**
     * @param array<int, string> $given
     *
     * @return \Generator<int, array{int, string}> places and codes that the ledger does not have yet
     */
    private function newCaptures(array $given): \Generator
    {
        $offset = -1;
        while ([] !== ($rows = $this->database->fetchAllAssociative(
            'SELECT response_offset, code FROM '.self::PAGES.' WHERE response_offset > ? ORDER BY response_offset LIMIT '.self::AT_ONCE,
            [$offset],
        ))) {
            foreach ($rows as $values) {
                $row = new Row($values);
                $offset = $row->int('response_offset');
                if (!isset($given[$offset])) {
                    yield [$offset, $row->text('code')];
                }
            }
        }
    }

    /**
     * @return \Generator<int, array{string, string}> keys and codes of the addresses that came with this file
     */
    private function newAddresses(): \Generator
    {
        $offset = -1;
        while ([] !== ($rows = $this->database->fetchAllAssociative(
            'SELECT p.response_offset, p.url_key, p.address_code FROM '.self::PAGES
                .' p JOIN address a ON a.url_key = p.url_key AND a.code = p.address_code WHERE p.response_offset > ? ORDER BY'
                    .' p.response_offset LIMIT '
                .self::AT_ONCE,
            [$offset],
        ))) {
            foreach ($rows as $values) {
                $row = new Row($values);
                $offset = $row->int('response_offset');
                yield [$row->text('url_key'), $row->text('address_code')];
            }
        }
    }

    private function applyNotes(): void
    {
        $this->database->executeStatement(
            'UPDATE '.self::PAGES.' p JOIN (SELECT MIN(response_offset) AS first, record_hash FROM '.self::PAGES
                .' GROUP BY record_hash) f ON f.first = p.response_offset'
            ." JOIN (SELECT record_hash, MIN(IF(role = 'dom', at_offset, NULL)) AS dom, MIN(IF(role = 'text', at_offset, NULL)) AS text,"
            ." MAX(IF(role = 'title', title, NULL)) AS title, MAX(IF(role = 'fragment', title, NULL)) AS fragment,"
            .' MAX(IF(completeness IS NOT NULL, role, NULL)) AS verdict, MAX(completeness) AS completeness FROM '.self::NOTES
            .' GROUP BY record_hash) n ON n.record_hash = f.record_hash'
            .' SET p.dom_offset = n.dom, p.text_offset = n.text, p.title = n.title, p.fragment = n.fragment, p.verdict = n.verdict,'
            .' p.completeness = n.completeness',
        );
        // A file of our own says which answer was the page; without that, frames look like pages, too.
        if ($this->number('SELECT EXISTS (SELECT 1 FROM '.self::PAGES.' WHERE title IS NOT NULL)') > 0) {
            $this->database->executeStatement('DELETE FROM '.self::PAGES.' WHERE title IS NULL AND opened = 0');
        }
    }

    /** Codes were made from the records' ids; where one stood twice, or was held already, from their place or file as well. */
    private function assignCodes(string $sha256): void
    {
        if ($this->number('SELECT COUNT(*) - COUNT(DISTINCT code) FROM '.self::PAGES) > 0) {
            $this->recode(
                'SELECT response_offset, record_id FROM (SELECT response_offset, record_id, ROW_NUMBER() OVER (PARTITION BY code ORDER'
                    .' BY response_offset) AS nth FROM '
                    .self::PAGES.') p WHERE nth > 1 AND response_offset > ? ORDER BY response_offset LIMIT '.self::AT_ONCE,
                static fn (string $id, int $offset): string => $id.' at '.$offset, '',
            );
        }
        $this->recode(
            'SELECT p.response_offset, p.record_id FROM '.self::PAGES
                .' p JOIN capture c ON c.code = p.code WHERE p.response_offset > ? ORDER BY p.response_offset LIMIT '.self::AT_ONCE,
            static fn (string $id): string => $id, ' in '.$sha256,
        );
    }

    /**
     * @param string $which selects places and ids behind a place
     * @param \Closure(string, int): string $id the id that counts from now on
     * @param string $suffix what else the code is made from
     */
    private function recode(string $which, \Closure $id, string $suffix): void
    {
        $offset = -1;
        while ([] !== ($rows = $this->database->fetchAllAssociative($which, [$offset]))) {
            foreach ($rows as $values) {
                $row = new Row($values);
                $offset = $row->int('response_offset');
                $new = $id($row->text('record_id'), $offset);
                $this->database->executeStatement(
                    'UPDATE '.self::PAGES.' SET record_id = ?, code = ? WHERE response_offset = ?',
                    [$new, Codes::of('capture '.$new.$suffix), $offset],
                );
            }
        }
    }

    private function enterAddresses(): void
    {
        $this->database->executeStatement(
            'INSERT INTO address (url_key, url, code, captures, first_at, last_at, last_alive_at, open_last_at)'
            .' SELECT p.url_key, p.address_url, p.address_code, g.captures, g.first_at, g.last_at, g.alive, g.last_at FROM (SELECT'
                .' MIN(response_offset) AS first, COUNT(*) AS captures, MIN(captured_at) AS first_at,'
            .' MAX(captured_at) AS last_at, MAX(IF(status BETWEEN 200 AND 299, captured_at, NULL)) AS alive FROM '.self::PAGES
                .' GROUP BY key_hash) g JOIN '.self::PAGES.' p ON p.response_offset = g.first ORDER BY p.url_key'
            .' ON DUPLICATE KEY UPDATE captures = address.captures + VALUES(captures), first_at = LEAST(address.first_at,'
                .' VALUES(first_at)), last_at = GREATEST(address.last_at, VALUES(last_at)),'
            .' last_alive_at = NULLIF(GREATEST(COALESCE(address.last_alive_at, '.self::NEVER.'), COALESCE(VALUES(last_alive_at), '
                .self::NEVER.')), '.self::NEVER.'),'
            .' open_last_at = GREATEST(COALESCE(address.open_last_at, '.self::NEVER.'), VALUES(open_last_at))',
        );
    }

    /** @param bool $alone whether all parts of the file belong to one page */
    private function enterCaptures(int $file, ScanFacts $facts, bool $alone): void
    {
        $entered = $this->database->executeStatement(
            'INSERT INTO capture (address_id, captured_at, code, url, warc_file_id, response_offset, status,'
            .' title, fragment, mime, parts, bytes,'
            .' payload_sha256, dom_offset, text_offset, redirect_to, verdict, completeness, agent, how)'
            .' SELECT a.id, p.captured_at, p.code, p.url, ?, p.response_offset, p.status, NULLIF(p.title, \'\'), p.fragment, p.mime,'
            .' IF(p.redirect_to IS NULL, ?, 1), IF(p.redirect_to IS NULL, ?, 0), p.payload_sha256, p.dom_offset,'
            .' p.text_offset, p.redirect_to, p.verdict, p.completeness, ?, ? FROM '.self::PAGES
                .' p JOIN address a ON a.url_key = p.url_key ORDER BY p.response_offset',
            [$file, $alone ? max(1, $facts->answers) : 1, $alone ? $facts->answerBytes : 0, $facts->agent, $facts->how],
        );
        if ((int) $entered !== $this->number('SELECT COUNT(*) FROM '.self::PAGES)) {
            throw new \RuntimeException('Not every page of the file found its address: two of them would have the same short name.');
        }
    }

    private function number(string $sql): int
    {
        $value = $this->database->fetchOne($sql);

        return is_numeric($value) ? (int) $value : 0;
    }
}
