<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Exception as DatabaseError;
use Ypomna\App\Search\Value\EngineAnswer;
use Ypomna\App\Search\Value\EngineQuestion;
use Ypomna\App\Search\Value\Hit;
use Ypomna\App\Search\Value\Kind;
use Ypomna\App\Search\Value\Order;
use Ypomna\App\Search\Value\PageCounts;
use Ypomna\App\Search\Value\PageTexts;
use Ypomna\App\Search\Value\Standing;
use Ypomna\Core\Search\Clause;
use Ypomna\Core\Search\Wanted;

/**
 * Mroonga, which is Groonga in MariaDB. It is written to as tables and asked by Groonga's own command, which answers in a tenth of the
 * time. Words come to it folded; what it is asked is made of letters and digits alone.
 */
final class MroongaEngine implements Engine
{
    /**
     * The same weights, of the indexes. All words that begin so are looked for again for each column, and of the short columns there is an
     * index of its own: so it takes half of the time.
     */
    private const BEGINNINGS = 'search_index#names.index[0]*11||search_index#names.index[1]*5||search_index#names.index[2]*5||'
        .'search_index#words.index[3]||search_index#words.index';
    /** If there are more texts that are not counted, or more sorts, all are looked at one by one. */
    private const MOST_TALLIES = 20_000;
    private const COUNTS = ' --drilldowns[tally].keys tally --drilldowns[tally].output_columns _key,_nsubrecs'
        .' --drilldowns[tally].limit '.self::MOST_TALLIES.' --drilldowns[tally_site].keys tally_site'
        .' --drilldowns[tally_site].output_columns _key,_nsubrecs --drilldowns[tally_site].limit '.self::MOST_TALLIES
        .' --drilldowns[single].keys single --drilldowns[single].output_columns facts --drilldowns[single].limit '.self::MOST_TALLIES;
    private const OUTPUT = '_id,_key,kind,subject,open,years,all_years,site,language,tags,state,counted,_score';
    /** By what lists in that order are put together. */
    private const SORTED_BY = ['relevance' => '_score', 'newest' => 'last', 'oldest' => 'first', 'site' => 'site', 'title' => 'titled'];
    private const SORT = [
        'relevance' => '-_score,_id', 'newest' => '-last,_id', 'oldest' => 'first,_id', 'site' => 'site,titled,_id',
        'title' => 'titled,_id',
    ];

    private ?bool $isThere = null;

    public function __construct(private readonly Connection $database, private readonly MroongaTables $tables)
    {
    }

    public function isThere(): bool
    {
        if (null === $this->isThere) {
            try {
                $columns = $this->command('column_list '.MroongaTables::TABLE) ?? [];
                // One that an earlier version made has less.
                $names = array_map(static fn (mixed $column): string => \is_array($column) && \is_string($column[1] ?? null)
                    ? $column[1] : '', $columns);
                $this->isThere = [] === array_diff([...array_keys(MroongaTables::COLUMNS), 'facts', 'single'], $names);
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
        try {
            $this->tables->make();
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
            $this->tables->throwAway();
        } catch (DatabaseError $e) {
            throw new EngineIsAway('The index of words cannot be thrown away: '.$e->getMessage(), 0, $e);
        }
        $this->isThere = null;
    }

    public function hold(): void
    {
        $this->tables->hold();
    }

    public function release(): void
    {
        if ($this->isThere()) {
            $this->tables->release();
        }
    }

    public function put(array $texts): void
    {
        $this->tables->put($texts);
    }

    public function stands(int $text, Standing $standing): void
    {
        $this->tables->stands($text, $standing);
    }

    public function notAlone(array $texts): void
    {
        $this->tables->notAlone($texts);
    }

    public function state(int $address, string $state): void
    {
        $this->tables->state($address, $state);
    }

    public function drop(array $texts): void
    {
        $this->tables->drop($texts);
    }

    public function words(array $texts): array
    {
        return $this->tables->words($texts);
    }

    public function clear(): void
    {
        $this->tables->clear();
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
        foreach (array_keys(MroongaTables::LISTS) as $list) {
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
                $counts->alone(
                    $count, (int) $values[$question->isWhole ? 1 : 0], $values[2], $values[3],
                    '' === $values[4] ? [] : explode("\n", $values[4]),
                );
            }
        }
        foreach (\array_slice($lists['tally_site'], 2) as $row) {
            [$site, $count] = \is_array($row) ? [$row[0] ?? null, $row[1] ?? null] : [null, null];
            if (\is_string($site) && \is_int($count)) {
                $counts->aloneOf($site, $count);
            }
        }

        return new EngineAnswer(
            $total, [...$hits, ...self::unordered($lists['single'], $hits, $counts, $question->isWhole)], \count($hits), $counts,
        );
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
     * @param PageCounts|null $counts where those go that are open texts of pages; null if they are wanted as well
     *
     * @return list<Hit>
     */
    private static function unordered(array $found, array $known, ?PageCounts $counts = null, bool $isWhole = false): array
    {
        $seen = $hits = [];
        foreach ($known as $hit) {
            $seen[$hit->text] = true;
        }
        $kinds = array_column(Kind::cases(), null, 'value');
        $page = (string) Kind::Page->value;
        foreach (\array_slice($found, 2) as $row) {
            $facts = \is_array($row) ? $row[0] ?? null : null;
            $values = \is_string($facts) ? explode("\t", $facts, 10) : [];
            if (10 !== \count($values) || isset($seen[$id = (int) $values[0]])) {
                continue;
            }
            if (null !== $counts && '1' === $values[3] && $page === $values[1]) {
                // There are thousands of them, and hardly one is shown.
                $texts = $counts->several[(int) $values[2]] ??= new PageTexts($values[6], $values[7], $values[8]);
                $texts->texts[] = $id;
                $texts->years |= (int) $values[$isWhole ? 5 : 4];
                foreach ('' === $values[9] ? [] : explode("\n", $values[9]) as $tag) {
                    $texts->tags[$tag] = true;
                }
            } else {
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
        $columns = $question->onlyDescriptions ? ['title' => 12, 'about' => 6] : MroongaTables::COLUMNS;
        $isBeginning = [] !== array_filter($question->wanted, static fn (Wanted $one): bool => $one->clause->isBeginning);
        $match = !$question->onlyDescriptions && $isBeginning ? self::BEGINNINGS : implode('||', array_map(
            static fn (string $column, int $weight): string => $column.'*'.$weight, array_keys($columns), $columns,
        ));
        $answer = $this->command(\sprintf(
            "select %s --match_columns '%s' --query '%s' --filter '%s' %s", MroongaTables::TABLE, $match, self::query($question),
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
