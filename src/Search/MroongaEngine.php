<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Exception as DatabaseError;
use Ypomna\App\Search\Value\EngineAnswer;
use Ypomna\App\Search\Value\EngineQuestion;
use Ypomna\App\Search\Value\Hit;
use Ypomna\App\Search\Value\Kind;
use Ypomna\App\Search\Value\Order;
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
    /** What is counted of each text, in one column: one by one they take three times as long. */
    private const FACTS = 'CONCAT_WS(CHAR(9), id, kind, subject, open, years, all_years, site, language, state, tags)';
    private const OUTPUT = '_key,kind,subject,open,years,all_years,site,language,tags,state,_score';
    /** By what lists in that order are put together. */
    private const SORTED_BY = ['relevance' => '_score', 'newest' => 'last', 'oldest' => 'first', 'site' => 'site', 'title' => 'titled'];
    private const LONGEST_TAGS = 600;
    private const SORT = [
        'relevance' => '-_score,_key', 'newest' => '-last,_key', 'oldest' => 'first,_key', 'site' => 'site,titled,_key',
        'title' => 'titled,_key',
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
                $this->isThere = [] === array_diff([...array_keys(self::COLUMNS), 'facts'], $names);
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
            $this->database->executeStatement('DROP TABLE IF EXISTS '.self::TABLE);
            $this->database->executeStatement(
                'CREATE TABLE '.self::TABLE.' (id BIGINT UNSIGNED NOT NULL PRIMARY KEY, kind TINYINT UNSIGNED NOT NULL,'
                .' subject BIGINT UNSIGNED NOT NULL, open TINYINT UNSIGNED NOT NULL, first BIGINT NOT NULL, last BIGINT NOT NULL,'
                .' years BIGINT NOT NULL, all_years BIGINT NOT NULL, site VARCHAR(255) NOT NULL, language VARCHAR(8) NOT NULL,'
                .' titled VARCHAR(200) NOT NULL, tags TEXT NOT NULL, state VARCHAR(16) NOT NULL, facts TEXT NOT NULL, '.implode(', ',
                    array_map($text, array_keys(self::COLUMNS))).','
                .' KEY search_subject (subject), FULLTEXT KEY words ('.implode(', ', array_keys(self::COLUMNS)).') '.$index.','
                .' FULLTEXT KEY names (title, about) '.$index.') ENGINE=Mroonga DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin',
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
            $this->database->executeStatement('DROP TABLE IF EXISTS '.self::TABLE);
        } catch (DatabaseError $e) {
            throw new EngineIsAway('The index of words cannot be thrown away: '.$e->getMessage(), 0, $e);
        }
        $this->isThere = null;
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
        foreach ($texts as $text) {
            $standing = $text->standing;
            $values = [
                'id' => $text->id, 'kind' => $text->kind->value, 'subject' => $text->subject, 'open' => (int) $standing->isOpen,
                'first' => $standing->first, 'last' => $standing->last, 'years' => $standing->years, 'all_years' => $standing->allYears,
                'site' => mb_substr($text->site, 0, 255), 'language' => $text->language, 'titled' => $text->titled,
                'tags' => self::someTags($text->tags), 'state' => $text->state,
            ];
            $values['facts'] = implode("\t", [
                $text->id, $text->kind->value, $text->subject, $values['open'], $standing->years, $standing->allYears, $values['site'],
                $text->language, $text->state, $values['tags'],
            ]);
            foreach (array_keys(self::COLUMNS) as $column) {
                $values[$column] = $text->words[$column] ?? '';
            }
            $this->database->executeStatement(
                'REPLACE INTO '.self::TABLE.' ('.implode(', ', array_keys($values)).') VALUES ('
                    .implode(', ', array_fill(0, \count($values), '?')).')',
                array_values($values),
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
            'UPDATE '.self::TABLE.' SET open = ?, first = ?, last = ?, years = ?, all_years = ?, facts = '.self::FACTS.' WHERE id = ?',
            [(int) $standing->isOpen, $standing->first, $standing->last, $standing->years, $standing->allYears, $text],
        );
    }

    public function state(int $address, string $state): void
    {
        $this->database->executeStatement(
            'UPDATE '.self::TABLE.' SET state = ?, facts = '.self::FACTS.' WHERE subject = ? AND kind = ?',
            [$state, $address, Kind::Page->value],
        );
    }

    public function drop(array $texts): void
    {
        if ([] !== $texts) {
            $this->database->executeStatement(
                'DELETE FROM '.self::TABLE.' WHERE id IN (?)', [$texts], [ArrayParameterType::INTEGER],
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
        $this->database->executeStatement('DELETE FROM '.self::TABLE);
    }

    public function ask(EngineQuestion $question): EngineAnswer
    {
        $sorted = min($question->most, $question->sorted ?? $question->most);
        $found = $this->select($question, \sprintf(
            '--sort_keys %s --limit %d --output_columns %s,%s', self::SORT[$question->order->value], $sorted, self::OUTPUT,
            self::SORTED_BY[$question->order->value],
        ))[0] ?? [];
        $isFalling = Order::Newest === $question->order;
        $hits = [];
        foreach (\array_slice($found, 2) as $row) {
            if (\is_array($row) && 12 === \count($row)) {
                $hits[] = self::hit(array_values($row), $isFalling);
            }
        }

        $ordered = \count($hits);
        if ($ordered === $sorted && $sorted < $question->most) {
            array_push($hits, ...$this->others($question, $hits));
        }

        return new EngineAnswer(self::total($found), $hits, $ordered);
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
        $seen = [];
        foreach ($known as $hit) {
            $seen[$hit->text] = true;
        }
        $hits = [];
        $kinds = array_column(Kind::cases(), null, 'value');
        $found = $this->select($question, \sprintf('--limit %d --output_columns facts', $question->most))[0] ?? [];
        foreach (\array_slice($found, 2) as $row) {
            if (!\is_array($row) || !\is_string($row[0] ?? null)) {
                continue;
            }
            $facts = explode("\t", $row[0], 10);
            if (10 === \count($facts) && !isset($seen[$id = (int) $facts[0]])) {
                $hits[] = new Hit(
                    $id, $kinds[(int) $facts[1]] ?? Kind::Page, (int) $facts[2], '1' === $facts[3], (int) $facts[4], (int) $facts[5],
                    $facts[6],
                    $facts[7], 0, 0, $facts[9], $facts[8],
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
        $match = implode('||', array_map(
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
    private static function hit(array $row, bool $isFalling): Hit
    {
        [$key, $kind, $subject, $open, $years, $allYears, $site, $language, $tags, $state, $score, $sort] = $row;
        $sort = \is_string($sort) ? $sort : (\is_int($sort) ? ($isFalling ? -$sort : $sort) : 0);

        return new Hit(
            \is_int($key) ? $key : 0, Kind::from(\is_int($kind) ? $kind : 0), \is_int($subject) ? $subject : 0, 1 === $open,
            \is_int($years) ? $years : 0, \is_int($allYears) ? $allYears : 0, \is_string($site) ? $site : '',
            \is_string($language) ? $language : '', \is_int($score) ? $score : 0, $sort, \is_string($tags) ? $tags : '',
            \is_string($state) ? $state : '',
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
