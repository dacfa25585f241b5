<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Search\Value\IndexedText;
use Ypomna\App\Search\Value\Kind;
use Ypomna\App\Search\Value\Standing;
use Ypomna\App\Shared\Row;

/** What Mroonga holds, written to as tables: a row a text, with its words by column and what it is counted and narrowed by. */
final readonly class MroongaTables
{
    public const TABLE = 'search_index';
    /** Columns of words, and what one of them weighs. */
    public const COLUMNS = ['title' => 12, 'about' => 6, 'heads' => 6, 'main' => 2, 'rest' => 1, 'seen' => 1, 'heard' => 1];
    /**
     * Columns that name entries of a list: entries are counted in a fraction of the time that texts take. Of what is not counted so, there
     * is one for each.
     */
    public const LISTS = ['tally' => 'search_tally', 'tally_site' => 'search_site', 'single' => 'search_single'];
    /** What is counted of each text, in one column: one by one they take three times as long. */
    private const FACTS = 'CONCAT_WS(CHAR(9), id, kind, subject, open, years, all_years, site, language, state, tags)';
    /** Pages that have one text, which everybody sees, are counted by what they have in common: in one column, and by their site. */
    private const COUNTED = 'counted = IF(alone = 1 AND open = 1, 1, 0), tally = IF(counted = 1, CONCAT_WS(CHAR(9), years, all_years,'
        ." language, state, tags), ''), tally_site = IF(counted = 1, site, ''), single = IF(counted = 1, '', id)";
    private const LONGEST_TAGS = 600;
    /** Bytes of texts that are written in one go. */
    private const AT_ONCE = 1_000_000;
    private const KIND = 'ENGINE=Mroonga DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin';

    public function __construct(private Connection $database)
    {
    }

    public function make(): void
    {
        $this->throwAway();
        $columns = [
            'id BIGINT UNSIGNED NOT NULL PRIMARY KEY', 'kind TINYINT UNSIGNED NOT NULL', 'subject BIGINT UNSIGNED NOT NULL',
            'open TINYINT UNSIGNED NOT NULL', 'first BIGINT NOT NULL', 'last BIGINT NOT NULL', 'years BIGINT NOT NULL',
            'all_years BIGINT NOT NULL', 'site VARCHAR(255) NOT NULL', 'language VARCHAR(8) NOT NULL', 'titled VARCHAR(200) NOT NULL',
            'tags TEXT NOT NULL', 'state VARCHAR(16) NOT NULL', 'facts TEXT NOT NULL', 'alone TINYINT UNSIGNED NOT NULL',
            'counted TINYINT UNSIGNED NOT NULL',
        ];
        foreach (self::LISTS as $column => $list) {
            $this->database->executeStatement("CREATE TABLE {$list} (name VARCHAR(760) NOT NULL PRIMARY KEY, facts TEXT NOT NULL)"
                .' '.self::KIND);
            $columns[] = "{$column} VARCHAR(760) NOT NULL COMMENT 'type \"{$list}\"'";
        }
        foreach (array_keys(self::COLUMNS) as $column) {
            $columns[] = "{$column} LONGTEXT NOT NULL COMMENT 'flags \"COLUMN_SCALAR|COMPRESS_ZLIB\"'";
        }
        $index = "COMMENT 'tokenizer \"TokenDelimit\", normalizer \"none\"'";
        $keys = [
            'KEY search_subject (subject)', 'FULLTEXT KEY words ('.implode(', ', array_keys(self::COLUMNS)).') '.$index,
            'FULLTEXT KEY names (title, about, heads) '.$index,
        ];
        $this->database->executeStatement('CREATE TABLE '.self::TABLE.' ('.implode(', ', [...$columns, ...$keys]).') '.self::KIND);
    }

    public function throwAway(): void
    {
        foreach ([self::TABLE, ...array_values(self::LISTS)] as $table) {
            $this->database->executeStatement('DROP TABLE IF EXISTS '.$table);
        }
    }

    public function hold(): void
    {
        $this->database->executeStatement('ALTER TABLE '.self::TABLE.' DISABLE KEYS');
    }

    public function release(): void
    {
        foreach ($this->database->fetchAllAssociative('SHOW INDEX FROM '.self::TABLE) as $values) {
            if ('disabled' === ($values['Comment'] ?? null)) {
                $this->database->executeStatement('ALTER TABLE '.self::TABLE.' ENABLE KEYS');

                return;
            }
        }
    }

    /** @param list<IndexedText> $texts */
    public function put(array $texts): void
    {
        $waiting = [];
        $bytes = 0;
        foreach ($texts as $text) {
            $waiting[] = $values = self::values($text);
            $bytes += array_sum(array_map(static fn (int|string $value): int => \strlen((string) $value), $values));
            if ($bytes > self::AT_ONCE) {
                $this->write($waiting);
                [$waiting, $bytes] = [[], 0];
            }
        }
        $this->write($waiting);
    }

    /** @return array<string, int|string> by column */
    private static function values(IndexedText $text): array
    {
        $standing = $text->standing;
        $values = [
            'id' => $text->id, 'kind' => $text->kind->value, 'subject' => $text->subject, 'open' => (int) $standing->isOpen,
            'first' => $standing->first, 'last' => $standing->last, 'years' => $standing->years, 'all_years' => $standing->allYears,
            'site' => mb_substr($text->site, 0, 255), 'language' => $text->language, 'titled' => $text->titled,
            'tags' => self::someTags($text->tags), 'state' => $text->state, 'alone' => (int) $text->isAlone,
        ];
        $facts = static fn (string ...$names): string => implode("\t", array_map(
            static fn (string $name): string => (string) ($values[$name] ?? ''), $names,
        ));
        $values['facts'] = $facts('id', 'kind', 'subject', 'open', 'years', 'all_years', 'site', 'language', 'state', 'tags');
        $isCounted = $text->isAlone && $standing->isOpen;
        $values['counted'] = (int) $isCounted;
        $values['tally'] = $isCounted ? $facts('years', 'all_years', 'language', 'state', 'tags') : '';
        $values['tally_site'] = $isCounted ? $values['site'] : '';
        $values['single'] = $isCounted ? '' : (string) $text->id;
        foreach (array_keys(self::COLUMNS) as $column) {
            $values[$column] = $text->words[$column] ?? '';
        }

        return $values;
    }

    /** @param list<array<string, int|string>> $rows */
    private function write(array $rows): void
    {
        $single = array_filter($rows, static fn (array $row): bool => 0 === $row['counted']);
        if ([] !== $single) {
            $this->database->executeStatement(
                'INSERT INTO search_single (name, facts) VALUES '.implode(', ', array_fill(0, \count($single), '(?, ?)'))
                    .' ON DUPLICATE KEY UPDATE facts = VALUES(facts)',
                array_merge(...array_map(static fn (array $row): array => [$row['single'], $row['facts']], array_values($single))),
            );
        }
        if ([] !== $rows) {
            $this->database->executeStatement(
                'REPLACE INTO '.self::TABLE.' ('.implode(', ', array_keys($rows[0])).') VALUES '.implode(', ', array_fill(
                    0, \count($rows), '('.implode(', ', array_fill(0, \count($rows[0]), '?')).')',
                )),
                array_merge(...array_map(array_values(...), $rows)),
            );
        }
    }

    /** An answer has the tags of thousands of texts: as many as go into so many bytes. */
    private static function someTags(string $tags): string
    {
        $cut = \strlen($tags) <= self::LONGEST_TAGS ? false : strrpos(substr($tags, 0, self::LONGEST_TAGS + 1), "\n");

        return \strlen($tags) <= self::LONGEST_TAGS ? $tags : (false === $cut ? '' : substr($tags, 0, $cut));
    }

    public function stands(int $text, Standing $standing): void
    {
        $this->database->executeStatement(
            'UPDATE '.self::TABLE.' SET open = ?, first = ?, last = ?, years = ?, all_years = ?, facts = '.self::FACTS
                .', '.self::COUNTED.' WHERE id = ?',
            [(int) $standing->isOpen, $standing->first, $standing->last, $standing->years, $standing->allYears, $text],
        );
        $this->single('id = ?', [$text]);
    }

    public function state(int $address, string $state): void
    {
        $this->database->executeStatement(
            'UPDATE '.self::TABLE.' SET state = ?, facts = '.self::FACTS.', '.self::COUNTED.' WHERE subject = ? AND kind = ?',
            [$state, $address, Kind::Page->value],
        );
        $this->single('subject = ? AND kind = ?', [$address, Kind::Page->value]);
    }

    /** @param list<int> $texts */
    public function notAlone(array $texts): void
    {
        if ([] !== $texts) {
            $this->database->executeStatement(
                'UPDATE '.self::TABLE.' SET alone = 0, '.self::COUNTED.' WHERE id IN (?)', [$texts], [ArrayParameterType::INTEGER],
            );
            $this->single('id IN (?)', [$texts]);
        }
    }

    /**
     * The facts of those that are not counted stand once more by themselves.
     *
     * @param list<mixed> $values
     */
    private function single(string $which, array $values): void
    {
        $this->database->executeStatement(
            'INSERT INTO search_single (name, facts) SELECT id, facts FROM '.self::TABLE.' WHERE counted = 0 AND '.$which
                .' ON DUPLICATE KEY UPDATE facts = VALUES(facts)',
            $values, [] !== $values && \is_array($values[0]) ? [ArrayParameterType::INTEGER] : [],
        );
    }

    /** @param list<int> $texts */
    public function drop(array $texts): void
    {
        if ([] !== $texts) {
            $this->database->executeStatement(
                'DELETE FROM '.self::TABLE.' WHERE id IN (?)', [$texts], [ArrayParameterType::INTEGER],
            );
            $this->database->executeStatement(
                'DELETE FROM search_single WHERE name IN (?)', [array_map(strval(...), $texts)], [ArrayParameterType::STRING],
            );
        }
    }

    /**
     * @param list<int> $texts
     *
     * @return array<int, array<string, string>> by number and column
     */
    public function words(array $texts): array
    {
        $words = [];
        foreach ([] === $texts ? [] : $this->database->fetchAllAssociative(
            'SELECT id, '.implode(', ', array_keys(self::COLUMNS)).' FROM '.self::TABLE.' WHERE id IN (?)', [$texts],
            [ArrayParameterType::INTEGER],
        ) as $values) {
            $row = new Row($values);
            foreach (array_keys(self::COLUMNS) as $column) {
                $words[$row->int('id')][$column] = $row->text($column);
            }
        }

        return $words;
    }

    public function clear(): void
    {
        foreach ([self::TABLE, ...array_values(self::LISTS)] as $table) {
            $this->database->executeStatement('DELETE FROM '.$table);
        }
    }
}
