<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Exception\DriverException;
use Ypomna\App\Access\Gate;
use Ypomna\App\Catalogue\Value\AddressLine;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Viewer;

/** Finds addresses by words of the address and of what its pages call themselves. */
final readonly class WordSearch
{
    public const MOST = 60;
    private const CANDIDATES = 300;
    /** For one question to the index. */
    private const SECONDS = 0.25;
    /** MariaDB's error 1969. */
    private const TOOK_TOO_LONG = 1969;
    /** So many of the latest addresses are looked through beside the index, which knows no parts of words and nothing new. */
    private const LATEST = 2_000;

    public function __construct(
        private Connection $database,
        private AddressLines $lines,
        private SeenAddresses $seen,
        private Gate $gate,
    ) {
    }

    /**
     * The best first: with the most of the words; then those kept in one of the years; then the latest.
     *
     * @param list<string> $words in lower case
     * @param list<int> $years that stand among the words
     *
     * @return list<AddressLine>
     */
    public function find(Viewer $viewer, array $words, array $years): array
    {
        $found = [];
        foreach ($this->candidates($viewer, $words) as $values) {
            $row = new Row($values);
            $text = mb_strtolower(rawurldecode($row->text('url')).' '.$row->textOrNull('title').' '.$row->textOrNull('titles'));
            $matched = \count(array_filter(
                $words, static fn (string $word): bool => str_contains($text, $word) || self::keptIn($row, (int) $word, $years),
            ));
            if ($matched > 0) {
                $found[] = [[$matched, $row->moment('last_at')], $row];
            }
        }
        usort($found, static fn (array $a, array $b): int => $b[0] <=> $a[0]);
        // Those with fewer words than the best are worth showing only where the best have not all.
        $best = $found[0][0][0] ?? 0;
        $least = $best >= \count($words) ? $best : max(1, $best - 1);

        $good = array_filter($found, static fn (array $one): bool => $one[0][0] >= $least);

        return $this->lines->of($viewer, array_column(\array_slice($good, 0, self::MOST), 1));
    }

    /**
     * @param list<string> $words
     *
     * @return list<array<string, mixed>>
     */
    private function candidates(Viewer $viewer, array $words): array
    {
        $seen = $this->gate->sight($viewer)->of('c.limited', 'c.code');
        $long = array_filter($words, static fn (string $word): bool => mb_strlen($word) >= 3);
        $all = implode(' ', array_map(static fn (string $word): string => '+'.$word.'*', $long));
        usort($long, static fn (string $a, string $b): int => mb_strlen($b) <=> mb_strlen($a));
        $some = implode(' ', \array_slice($long, 0, 3));
        $ids = $titles = [];
        foreach ([] === $long ? [] : [$all, $some] as $asked) {
            foreach ($this->within(
                'SELECT id, NULL AS title FROM address WHERE MATCH (url) AGAINST (? IN BOOLEAN MODE) LIMIT '.self::CANDIDATES, $asked,
            ) as $row) {
                $ids[] = $row->int('id');
            }
            foreach ($this->within(
                'SELECT c.address_id AS id, c.title FROM capture c WHERE MATCH (c.title) AGAINST (? IN BOOLEAN MODE) AND '.$seen.' LIMIT '
                    .self::CANDIDATES,
                $asked,
            ) as $row) {
                $ids[] = $row->int('id');
                $titles[$row->int('id')] = ($titles[$row->int('id')] ?? '').' '.$row->text('title');
            }
            if (\count($ids) >= self::MOST) {
                break;
            }
        }
        $rows = [];
        $title = static fn (string $which): string => '(SELECT c.title FROM capture c WHERE c.address_id = a.id AND c.title IS NOT NULL'
            .$which.' ORDER BY c.captured_at DESC LIMIT 1)';
        // Hardly any address has captures that are limited to some: for the others the question is as it would be without.
        $title = $this->gate->sight($viewer)->isWhole() ? $title('') : 'IF(a.limited = 0, '.$title('').', '.$title(' AND '.$seen).')';
        $likes = array_map(static fn (string $word): string => '%'.addcslashes($word, '%_\\').'%', $words);
        foreach ([
            [$this->seen->latest($viewer, self::LATEST), '('.implode(' OR ', array_fill(0, \count($words), 'a.url LIKE ?')).')', $likes],
            ['FROM address a', 'a.id IN (?)', [array_values(array_unique($ids))]],
        ] as [$from, $which, $parameters]) {
            $found = [[]] === $parameters ? [] : $this->database->fetchAllAssociative(
                \sprintf(
                    <<<'SQL'
                        SELECT %s, a.code, a.url, %s AS title %s WHERE %s AND %s
                        SQL,
                    SeenAddresses::COLUMNS, $title, $from, $which, $this->seen->condition($viewer),
                ),
                $parameters,
                \is_array($parameters[0] ?? null) ? [ArrayParameterType::INTEGER] : [],
            );
            foreach ($this->seen->rows($viewer, $found) as $row) {
                $rows[(new Row($row))->int('id')] = $row;
            }
        }

        return array_values(array_map(
            static fn (array $row): array => $row + ['titles' => $titles[(new Row($row))->int('id')] ?? null], $rows,
        ));
    }

    /**
     * What the index finds in time: words that stand nearly everywhere would take long, and find nothing that is meant.
     *
     * @return list<Row>
     */
    private function within(string $select, string $asked): array
    {
        try {
            return array_map(
                static fn (array $values): Row => new Row($values),
                $this->database->fetchAllAssociative('SET STATEMENT max_statement_time = '.self::SECONDS.' FOR '.$select, [$asked]),
            );
        } catch (DriverException $e) {
            return self::TOOK_TOO_LONG === $e->getCode() ? [] : throw $e;
        }
    }

    /**
     * @param list<int> $years
     */
    private static function keptIn(Row $row, int $year, array $years): bool
    {
        return \in_array($year, $years, true) && (int) $row->moment('first_at')->format('Y') <= $year
            && (int) $row->moment('last_at')->format('Y') >= $year;
    }
}
