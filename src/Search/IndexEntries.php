<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Search\Value\IndexedText;
use Ypomna\App\Search\Value\Kind;
use Ypomna\App\Search\Value\Standing;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\TransactionRetry;
use Ypomna\Core\Page\Language;
use Ypomna\Core\Search\Folding;
use Ypomna\Core\Search\Part;
use Ypomna\Core\Search\Writing;

/** What the index has of the texts: it is filled portion by portion, and told when they stand. */
final readonly class IndexEntries
{
    private const MUCH = 2_000;
    /** Texts that are written in one go, those that are read in one go, and bytes of what was read, which is packed. */
    private const PORTION = 200;
    private const READ = 25;
    private const BYTES = 2_000_000;
    /** A shorter passage does not tell its language, in bytes. */
    private const TELLS = 80;

    public function __construct(
        private Connection $database,
        private Engine $engine,
        private Vocabulary $vocabulary,
        private AddressStates $states,
    ) {
    }

    /**
     * Takes texts into the index that are not in it yet, a portion.
     *
     * @return bool whether there were some
     */
    public function fill(): bool
    {
        $rows = $this->waiting();
        $columns = $words = [];
        foreach ($rows as $n => $row) {
            $parts = $spoken = [];
            foreach (Writing::unpack($row->text('body')) as $piece) {
                $parts[$piece->part->value][] = $here = implode(' ', Folding::words($piece->text));
                // Each passage has its own language, where that can be told.
                $own = \strlen($piece->text) < self::TELLS ? null : Language::of($piece->text);
                $spoken[$own ?? $row->text('language')][] = $here;
            }
            $columns[$n] = array_map(static fn (Part $part): string => Writing::joined($parts[$part->value] ?? []), Texts::PARTS);
            foreach ($spoken as $in => $here) {
                $words[$in][] = ['' => implode(' ', $here)];
            }
        }
        // Before the texts are in: a worker that is killed in between leaves words counted twice, and none unknown.
        foreach ($words as $language => $texts) {
            $this->vocabulary->learn($language, $texts);
        }
        if ([] !== $rows) {
            TransactionRetry::transaction($this->database, fn () => $this->put($rows, $columns));
        }

        return [] !== $rows;
    }

    /**
     * The index is told when texts stand; those that stand nowhere any more go.
     *
     * @param list<int> $texts
     */
    public function follow(array $texts): void
    {
        // Made later, it takes all as it is then.
        foreach ($this->engine->isThere() ? $texts : [] as $text) {
            TransactionRetry::transaction($this->database, function () use ($text): void {
                $state = $this->lock([$text])[$text] ?? null;
                $standing = $this->standings([$text])[$text] ?? null;
                if (null === $standing) {
                    $this->delete([$text]);
                    $this->engine->drop([$text]);
                } elseif (0 !== $state) {
                    $this->engine->stands($text, $standing);
                    $this->database->executeStatement('UPDATE search_text SET is_indexed = 1 WHERE id = ?', [$text]);
                }
            });
        }
    }

    /** Whether so much waits for the index that it is made in one go. */
    public function isMuch(): bool
    {
        $waits = $this->database->fetchOne('SELECT COUNT(*) FROM search_text WHERE is_indexed = 0');
        $all = $this->database->fetchOne('SELECT COUNT(*) FROM search_text');

        return is_numeric($waits) && is_numeric($all) && (int) $waits >= self::MUCH && 2 * (int) $waits > (int) $all;
    }

    /** All texts up to this number are in the index; those behind it may be, too. */
    public function reach(): int
    {
        $waits = $this->database->fetchOne('SELECT MIN(id) FROM search_text WHERE is_indexed = 0');
        $last = is_numeric($waits) ? (int) $waits - 1 : $this->database->fetchOne('SELECT MAX(id) FROM search_text');

        return is_numeric($last) ? (int) $last : 0;
    }

    /** @return array<int, true> texts of which the index does not know yet who may see them */
    public function stale(): array
    {
        return array_fill_keys(array_map(intval(...), array_filter(
            $this->database->fetchFirstColumn('SELECT id FROM search_text WHERE is_indexed = 2'), is_numeric(...),
        )), true);
    }

    /** The index is empty: all texts are to be taken into it again. */
    public function all(): void
    {
        $this->database->executeStatement('UPDATE search_text SET is_indexed = 0');
        $this->vocabulary->clear();
    }

    /** @return list<Row> as many texts as are held in memory at once */
    private function waiting(): array
    {
        $rows = [];
        $behind = $bytes = 0;
        do {
            $some = $this->database->fetchAllAssociative(
                'SELECT id, kind, subject_id, language, site, title, body, tags FROM search_text WHERE is_indexed = 0 AND id > ?'
                    .' ORDER BY id LIMIT '.self::READ, [$behind],
            );
            foreach ($some as $values) {
                $rows[] = $row = new Row($values);
                $behind = $row->int('id');
                $bytes += \strlen($row->text('body'));
            }
        } while (self::READ === \count($some) && \count($rows) < self::PORTION && $bytes < self::BYTES);

        return $rows;
    }

    /**
     * Without those that stand nowhere any more, or that another worker was faster with.
     *
     * @param list<Row> $rows
     * @param array<int, array<string, string>> $columns words of each
     */
    private function put(array $rows, array $columns): void
    {
        $ids = array_map(static fn (Row $row): int => $row->int('id'), $rows);
        $waiting = array_filter($this->lock($ids), static fn (int $state): bool => 0 === $state);
        $standings = $this->standings(array_keys($waiting));
        $this->delete(array_keys(array_diff_key($waiting, $standings)));
        $rows = array_filter($rows, static fn (Row $row): bool => isset($standings[$row->int('id')]));
        $pages = array_values(array_unique(array_map(
            static fn (Row $row): int => $row->int('subject_id'),
            array_filter($rows, static fn (Row $row): bool => Kind::Page->value === $row->int('kind')),
        )));
        $states = $this->states->ofAll($pages);
        $alone = $this->alone($pages, array_keys($standings));
        $texts = [];
        foreach ($rows as $n => $row) {
            $isPage = Kind::Page->value === $row->int('kind');
            $texts[] = new IndexedText(
                $row->int('id'), Kind::from($row->int('kind')), $row->int('subject_id'), $row->text('site'), $row->text('language'),
                mb_substr(mb_strtolower($row->text('title')), 0, 200), $columns[$n], $standings[$row->int('id')], $row->text('tags'),
                $isPage ? $states[$row->int('subject_id')] ?? '' : '', $isPage && isset($alone[$row->int('subject_id')]),
            );
        }
        $this->engine->put($texts);
        if ([] !== $texts) {
            $this->database->executeStatement(
                'UPDATE search_text SET is_indexed = 1 WHERE id IN (?)',
                [array_map(static fn (IndexedText $text): int => $text->id, $texts)],
                [ArrayParameterType::INTEGER],
            );
        }
    }

    /**
     * Pages that have one text: the index counts these by itself. What it has of one that has another now, it is told.
     *
     * Whoever puts a second text waits here for whoever is putting the first, and finds it. Whoever puts the first finds the second,
     * if that is there; otherwise whoever puts that comes later.
     *
     * @param list<int> $pages
     * @param list<int> $putting numbers of the texts that are about to be put
     *
     * @return array<int, true> by address
     */
    private function alone(array $pages, array $putting): array
    {
        $alone = $before = [];
        foreach ([] === $pages ? [] : $this->database->fetchAllKeyValue(
            'SELECT subject_id, COUNT(*) FROM search_text WHERE kind = ? AND subject_id IN (?) GROUP BY subject_id',
            [Kind::Page->value, $pages], [1 => ArrayParameterType::INTEGER],
        ) as $page => $count) {
            if (is_numeric($count) && 1 === (int) $count) {
                $alone[(int) $page] = true;
            }
        }
        foreach (array_diff($pages, array_keys($alone)) as $page) {
            // Two that are there already were told of each other.
            $others = $this->database->fetchFirstColumn(
                'SELECT id FROM search_text WHERE kind = ? AND subject_id = ? AND is_indexed <> 0 AND id NOT IN (?) LIMIT 2 FOR UPDATE',
                [Kind::Page->value, $page, $putting], [2 => ArrayParameterType::INTEGER],
            );
            if (1 === \count($others) && is_numeric($others[0])) {
                $before[] = (int) $others[0];
            }
        }
        $this->engine->notAlone($before);

        return $alone;
    }

    /**
     * Nobody else says when these stand before the transaction ends.
     *
     * @param list<int> $texts
     *
     * @return array<int, int> 0 waits for the index, 1 is in it, 2 stands otherwise now
     */
    private function lock(array $texts): array
    {
        $states = [];
        foreach ($this->database->fetchAllKeyValue(
            'SELECT id, is_indexed FROM search_text WHERE id IN (?) ORDER BY id FOR UPDATE', [$texts], [ArrayParameterType::INTEGER],
        ) as $text => $state) {
            $states[(int) $text] = is_numeric($state) ? (int) $state : 0;
        }

        return $states;
    }

    /**
     * @param list<int> $texts
     *
     * @return array<int, Standing> of those that stand somewhere
     */
    private function standings(array $texts): array
    {
        $of = $standings = [];
        foreach ([] === $texts ? [] : $this->database->fetchAllAssociative(
            'SELECT id, since, until FROM search_text WHERE id IN (?) AND since IS NOT NULL', [$texts], [ArrayParameterType::INTEGER],
        ) as $values) {
            $row = new Row($values);
            $of[$row->int('id')] = [
                ['at' => $row->moment('since'), 'limited' => true], ['at' => $row->moment('until'), 'limited' => true],
            ];
        }
        $left = array_values(array_diff($texts, array_keys($of)));
        foreach ([] === $left ? [] : $this->database->fetchAllAssociative(
            'SELECT text_id, limited, MIN(captured_at) AS first, MAX(captured_at) AS last FROM search_stand WHERE text_id IN (?)'
                .' GROUP BY text_id, limited, YEAR(captured_at)', [$left], [ArrayParameterType::INTEGER],
        ) as $values) {
            $row = new Row($values);
            foreach (['first', 'last'] as $name) {
                $of[$row->int('text_id')][] = ['at' => $row->moment($name), 'limited' => 1 === $row->int('limited')];
            }
        }
        foreach ($of as $text => $captures) {
            $standings[$text] = Standing::of($captures);
        }

        return $standings;
    }

    /** @param list<int> $texts */
    private function delete(array $texts): void
    {
        if ([] !== $texts) {
            $this->database->executeStatement('DELETE FROM search_text WHERE id IN (?)', [$texts], [ArrayParameterType::INTEGER]);
        }
    }
}
