<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Exception as DatabaseError;
use Ypomna\App\Search\Value\EngineAnswer;
use Ypomna\App\Search\Value\EngineQuestion;
use Ypomna\App\Search\Value\Hit;
use Ypomna\App\Search\Value\IndexedText;
use Ypomna\App\Search\Value\Kind;
use Ypomna\App\Search\Value\Order;
use Ypomna\App\Search\Value\PageCounts;
use Ypomna\App\Search\Value\Standing;
use Ypomna\App\Shared\Row;
use Ypomna\Core\Search\Clause;
use Ypomna\Core\Search\Wanted;

/**
 * Mroonga, which is Groonga in MariaDB. It is written to as a table and asked by Groonga's own command, which answers in a tenth of the
 * time. Words come to it folded; what it is asked is made of letters and digits alone.
 */
final class MroongaEngine implements Engine
{
    private const TABLE = 'search_index';
    private const COLUMNS = ['title' => 12, 'about' => 6, 'heads' => 6, 'main' => 2, 'rest' => 1, 'seen' => 1, 'heard' => 1];
    /**
     * The same weights, of the indexes. All words that begin so are looked for again for each column, and of the short columns there is an
     * index of its own: so it takes half of the time.
     */
    private const BEGINNINGS = self::TABLE.'#names.index[0]*11||'.self::TABLE.'#names.index[1]*5||'.self::TABLE.'#names.index[2]*5||'
        .self::TABLE.'#words.index[3]||'.self::TABLE.'#words.index';
    /** What is counted of each text, in one column: one by one they take three times as long. */
    private const FACTS = 'CONCAT_WS(CHAR(9), id, kind, subject, open, years, all_years, site, language, state, tags)';
    /** Pages that have one text, which everybody sees, are counted by what they have in common: in one column, and by their site. */
    private const COUNTED = 'counted = IF(alone = 1 AND open = 1, 1, 0), tally = IF(counted = 1, CONCAT_WS(CHAR(9), years, all_years,'
        ." language, state, tags), ''), tally_site = IF(counted = 1, site, ''), single = IF(counted = 1, '', id)";
    /**
     * Columns that name entries of a list: entries are counted in a fraction of the time that texts take. Of what is not counted so, there
     * is one for each.
     */
    private const LISTS = ['tally' => 'search_tally', 'tally_site' => 'search_site', 'single' => 'search_single'];
    /** If there are more texts that are not counted, or more sorts, all are looked at one by one. */
    private const MOST_TALLIES = 20_000;
    private const COUNTS = ' --drilldowns[tally].keys tally --drilldowns[tally].output_columns _key,_nsubrecs'
        .' --drilldowns[tally].limit '.self::MOST_TALLIES.' --drilldowns[tally_site].keys tally_site'
        .' --drilldowns[tally_site].output_columns _key,_nsubrecs --drilldowns[tally_site].limit '.self::MOST_TALLIES
        .' --drilldowns[single].keys single --drilldowns[single].output_columns facts --drilldowns[single].limit '.self::MOST_TALLIES;
    private const OUTPUT = '_id,_key,kind,subject,open,years,all_years,site,language,tags,state,counted,_score';
    /** By what lists in that order are put together. */
    private const SORTED_BY = ['relevance' => '_score', 'newest' => 'last', 'oldest' => 'first', 'site' => 'site', 'title' => 'titled'];
    private const LONGEST_TAGS = 600;
    /** Bytes of texts that are written in one go. */
    private const AT_ONCE = 1_000_000;
    private const SORT = [
        'relevance' => '-_score,_id', 'newest' => '-last,_id', 'oldest' => 'first,_id', 'site' => 'site,titled,_id',
        'title' => 'titled,_id',
    ];

    private ?bool $isThere = null;

    public function __construct(private readonly Connection $database)
    {
    }

    public function isThere(): bool
    {
        if (null === $this->isThere) {
            try {
                $columns = $this->command('column_list '.self::TABLE) ?? [];
                // One that an earlier version made has less.
                $names = array_map(static fn (mixed $column): string => \is_array($column) && \is_string($column[1] ?? null)
                    ? $column[1] : '', $columns);
                $this->isThere = [] === array_diff([...array_keys(self::COLUMNS), 'facts', 'single'], $names);
            } catch (EngineIsAway) {
                $this->isThere = false;
            }
        }

        return $this->isThere;
    }

    public function prepare(): bool
    {
        if ($this->isThere()) {
            return false;
        }
        $this->isThere = null;
        $text = static fn (string $name): string => $name." LONGTEXT NOT NULL COMMENT 'flags \"COLUMN_SCALAR|COMPRESS_ZLIB\"'";
        $index = "COMMENT 'tokenizer \"TokenDelimit\", normalizer \"none\"'";
        try {
            $this->throwAway();
            foreach (self::LISTS as $list) {
                $this->database->executeStatement('CREATE TABLE '.$list.' (name VARCHAR(760) NOT NULL PRIMARY KEY, facts TEXT NOT NULL)'
                    .' ENGINE=Mroonga DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin');
            }
            $this->database->executeStatement(
                'CREATE TABLE '.self::TABLE.' (id BIGINT UNSIGNED NOT NULL PRIMARY KEY, kind TINYINT UNSIGNED NOT NULL,'
                .' subject BIGINT UNSIGNED NOT NULL, open TINYINT UNSIGNED NOT NULL, first BIGINT NOT NULL, last BIGINT NOT NULL,'
                .' years BIGINT NOT NULL, all_years BIGINT NOT NULL, site VARCHAR(255) NOT NULL, language VARCHAR(8) NOT NULL,'
                .' titled VARCHAR(200) NOT NULL, tags TEXT NOT NULL, state VARCHAR(16) NOT NULL, facts TEXT NOT NULL,'
                .' alone TINYINT UNSIGNED NOT NULL, counted TINYINT UNSIGNED NOT NULL, '.implode(', ',
                    array_map(static fn (string $column,
                        string $list): string => $column." VARCHAR(760) NOT NULL COMMENT 'type \"{$list}\"'",
                        array_keys(self::LISTS), self::LISTS)).', '.implode(', ',
                            array_map($text, array_keys(self::COLUMNS))).','
                .' KEY search_subject (subject), FULLTEXT KEY words ('.implode(', ', array_keys(self::COLUMNS)).') '.$index.','
                .' FULLTEXT KEY names (title, about, heads) '.$index.') ENGINE=Mroonga DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin',
            );
        } catch (DatabaseError $e) {
            throw new EngineIsAway('The index of words cannot be made: '.$e->getMessage(), 0, $e);
        }
        if (!$this->isThere()) {
            throw new EngineIsAway('The index of words was made, but its command is missing: CREATE FUNCTION mroonga_command RETURNS STRING'
                ." SONAME 'ha_mroonga.so'");
        }

        return true;
    }

    public function forget(): void
    {
        try {
            $this->throwAway();
        } catch (DatabaseError $e) {
            throw new EngineIsAway('The index of words cannot be thrown away: '.$e->getMessage(), 0, $e);
        }
        $this->isThere = null;
    }

    private function throwAway(): void
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
        foreach ($this->isThere() ? $this->database->fetchAllAssociative('SHOW INDEX FROM '.self::TABLE) : [] as $values) {
            if ('disabled' === ($values['Comment'] ?? null)) {
                $this->database->executeStatement('ALTER TABLE '.self::TABLE.' ENABLE KEYS');

                return;
            }
        }
    }

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

    public function notAlone(array $texts): void
    {
        if ([] !== $texts) {
            $this->database->executeStatement(
                'UPDATE '.self::TABLE.' SET alone = 0, '.self::COUNTED.' WHERE id IN (?)', [$texts], [ArrayParameterType::INTEGER],
            );
            $this->single('id IN (?)', [$texts]);
        }
    }

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

    public function ask(EngineQuestion $question): EngineAnswer
    {
        $sorted = min($question->most, $question->sorted ?? $question->most);
        if (0 === $sorted) {
            $found = $this->unsorted($question);
            $hits = self::unordered($found, []);

            return new EngineAnswer(self::total($found), $hits, 0);
        }
        $answer = $this->select($question, \sprintf(
            '--sort_keys %s --limit %d --output_columns %s,%s', self::SORT[$question->order->value], $sorted, self::OUTPUT,
            self::SORTED_BY[$question->order->value],
        ).($question->countsAlone ? self::COUNTS : ''));
        $found = $answer[0] ?? [];
        $total = self::total($found);
        $counts = $question->countsAlone && $total > $sorted;
        $hits = [];
        foreach (\array_slice($found, 2) as $row) {
            if (\is_array($row) && 14 === \count($row)) {
                $hits[] = self::hit(array_values($row), Order::Newest === $question->order, $counts);
            }
        }
        if ($counts) {
            return $this->counted($question, $answer, $total, $hits) ?? $this->ask($question->withoutCounts());
        }

        return new EngineAnswer(
            $total, $total > $sorted && $sorted < $question->most ? [...$hits, ...$this->others($question, $hits)] : $hits, \count($hits),
        );
    }

    /**
     * With what the index counted, and all that it did not.
     *
     * @param list<array<mixed>> $answer
     * @param list<Hit> $hits those that are in order
     *
     * @return EngineAnswer|null null if there are too many sorts, or too many that it did not count
     */
    private function counted(EngineQuestion $question, array $answer, int $total, array $hits): ?EngineAnswer
    {
        $lists = [];
        foreach (array_keys(self::LISTS) as $list) {
            $lists[$list] = \is_array($answer[1][$list] ?? null) ? $answer[1][$list] : [];
            if (self::total($lists[$list]) > self::MOST_TALLIES) {
                return null;
            }
        }
        $counts = new PageCounts();
        foreach (\array_slice($lists['tally'], 2) as $row) {
            [$tally, $count] = \is_array($row) ? [$row[0] ?? null, $row[1] ?? null] : [null, null];
            $values = \is_string($tally) ? explode("\t", $tally, 5) : [];
            if (5 === \count($values) && \is_int($count)) {
                $counts->add(
                    $count, (int) $values[$question->isWhole ? 1 : 0], $values[2], $values[3],
                    '' === $values[4] ? [] : explode("\n", $values[4]),
                );
            }
        }
        foreach (\array_slice($lists['tally_site'], 2) as $row) {
            [$site, $count] = \is_array($row) ? [$row[0] ?? null, $row[1] ?? null] : [null, null];
            if (\is_string($site) && \is_int($count)) {
                $counts->one('site', $site, $count);
            }
        }

        return new EngineAnswer($total, [...$hits, ...self::unordered($lists['single'], $hits)], \count($hits), $counts);
    }

    /**
     * What else there is, in no order.
     *
     * @param list<Hit> $known
     *
     * @return list<Hit>
     */
    private function others(EngineQuestion $question, array $known): array
    {
        return self::unordered($this->unsorted($question), $known);
    }

    /** @return array<mixed> */
    private function unsorted(EngineQuestion $question): array
    {
        return $this->select($question, \sprintf('--limit %d --output_columns facts', $question->most))[0] ?? [];
    }

    /**
     * @param array<mixed> $found
     * @param list<Hit> $known those that are not wanted again
     *
     * @return list<Hit>
     */
    private static function unordered(array $found, array $known): array
    {
        $seen = $hits = [];
        foreach ($known as $hit) {
            $seen[$hit->text] = true;
        }
        $kinds = array_column(Kind::cases(), null, 'value');
        foreach (\array_slice($found, 2) as $row) {
            $facts = \is_array($row) ? $row[0] ?? null : null;
            $values = \is_string($facts) ? explode("\t", $facts, 10) : [];
            if (10 === \count($values) && !isset($seen[$id = (int) $values[0]])) {
                $hits[] = new Hit(
                    $id, $kinds[(int) $values[1]] ?? Kind::Page, (int) $values[2], '1' === $values[3], (int) $values[4], (int) $values[5],
                    $values[6], $values[7], 0, 0, $values[9], $values[8],
                );
            }
        }

        return $hits;
    }

    public function subjects(EngineQuestion $question): int
    {
        $found = $this->select($question, '--limit 0 --drilldown subject --drilldown_limit 0');

        return self::total($found[1] ?? []);
    }

    /** @return list<array<mixed>> */
    private function select(EngineQuestion $question, string $how): array
    {
        $columns = $question->onlyDescriptions ? ['title' => 12, 'about' => 6] : self::COLUMNS;
        $isBeginning = [] !== array_filter($question->wanted, static fn (Wanted $one): bool => $one->clause->isBeginning);
        $match = !$question->onlyDescriptions && $isBeginning ? self::BEGINNINGS : implode('||', array_map(
            static fn (string $column, int $weight): string => $column.'*'.$weight, array_keys($columns), $columns,
        ));
        $answer = $this->command(\sprintf(
            "select %s --match_columns '%s' --query '%s' --filter '%s' %s", self::TABLE, $match, self::query($question),
            self::filter($question), $how,
        ));

        return array_values(array_filter($answer ?? throw new EngineIsAway('The index of words gave no answer.'), \is_array(...)));
    }

    private static function query(EngineQuestion $question): string
    {
        $parts = array_map(self::wanted(...), $question->wanted);
        foreach ($question->excluded as $clause) {
            $parts[] = '-'.self::clause($clause);
        }

        return implode(' ', $parts);
    }

    private static function wanted(Wanted $wanted): string
    {
        return \count($wanted->forms) > 1
            ? '('.implode(' OR ', array_map(self::plain(...), $wanted->forms)).')' : self::clause($wanted->clause);
    }

    private static function clause(Clause $clause): string
    {
        $words = array_map(self::plain(...), $clause->words);
        if (!$clause->isBeginning) {
            return 1 === \count($words) ? $words[0] : '"'.implode(' ', $words).'"';
        }
        $last = array_pop($words).'*';

        return [] === $words ? $last : '("'.implode(' ', $words).'" '.$last.')';
    }

    /** Nothing but letters and digits comes into a command. */
    private static function plain(string $word): string
    {
        return 1 === preg_match('/^[\p{L}\p{M}\p{N}]+$/Du', $word) ? $word : throw new \LogicException('This is no word of the index.');
    }

    private static function filter(EngineQuestion $question): string
    {
        $filter = ['1 == 1'];
        if (null !== $question->isOpen) {
            $filter[] = 'open == '.(int) $question->isOpen;
        }
        if (null !== $question->kind) {
            $filter[] = 'kind == '.$question->kind->value;
        }
        if (null !== $question->subject) {
            $filter[] = 'subject == '.$question->subject;
        }
        if (null !== $question->year) {
            $years = true === $question->isOpen ? 'years' : 'all_years';
            $filter[] = '('.$years.' & '.Standing::bit($question->year).') != 0';
        }
        foreach (['site' => $question->site, 'language' => $question->language] as $column => $value) {
            if (null !== $value) {
                $filter[] = $column.' == "'.(1 === preg_match('/^[\p{L}\p{N}._:\[\]-]*$/Du', $value) ? $value : '-').'"';
            }
        }

        return implode(' && ', $filter);
    }

    /**
     * Without a function for each value: there are thousands of rows.
     *
     * @param list<mixed> $row
     */
    private static function hit(array $row, bool $isFalling, bool $counts): Hit
    {
        [$place, $key, $kind, $subject, $open, $years, $allYears, $site, $language, $tags, $state, $counted, $score, $sort] = $row;
        $sort = \is_string($sort) ? $sort : (\is_int($sort) ? ($isFalling ? -$sort : $sort) : 0);

        return new Hit(
            \is_int($key) ? $key : 0, Kind::from(\is_int($kind) ? $kind : 0), \is_int($subject) ? $subject : 0, 1 === $open,
            \is_int($years) ? $years : 0, \is_int($allYears) ? $allYears : 0, \is_string($site) ? $site : '',
            \is_string($language) ? $language : '', \is_int($score) ? $score : 0, $sort, \is_string($tags) ? $tags : '',
            \is_string($state) ? $state : '', $counts && 1 === $counted, \is_int($place) ? $place : 0,
        );
    }

    /** @param array<mixed> $found */
    private static function total(array $found): int
    {
        $total = \is_array($found[0] ?? null) ? $found[0][0] ?? 0 : 0;

        return \is_int($total) ? $total : 0;
    }

    /**
     * @return array<mixed>|null null if the command was refused
     *
     * @throws EngineIsAway
     */
    private function command(string $command): ?array
    {
        try {
            $answer = $this->database->fetchOne('SELECT mroonga_command(?)', [$command]);
        } catch (DatabaseError $e) {
            throw new EngineIsAway('The index of words cannot be asked: '.$e->getMessage(), 0, $e);
        }
        $said = \is_string($answer) ? json_decode($answer, true) : null;

        return \is_array($said) && [] !== $said ? $said : null;
    }
}
