<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\Connection;
use Symfony\Contracts\Service\ResetInterface;
use Ypomna\App\Access\Gate;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Viewer;

/**
 * Addresses as somebody sees them: how many captures there are, and from when to when, without those that they may not see. An address
 * of which they may see none is not there. Hardly any address has captures that are limited to some; the others cost nothing more.
 */
final class SeenAddresses implements ResetInterface
{
    /** What {@see self::rows()} puts right. */
    public const COLUMNS = 'a.id, a.limited, a.captures, a.first_at, a.last_at, a.last_alive_at';
    /** So many of the latest captures that are limited to some are looked at where addresses are wanted by the time of their last one. */
    private const LATEST_LIMITED = 200;
    private const AT_ONCE = 50;

    /** So many captures that are limited to some are remembered of one address. */
    private const REMEMBERED = 20_000;

    /** @var array<string, list<int>> what was granted to somebody of addresses, for one request: several parts of a screen ask for it */
    private array $granted = [];

    public function __construct(private readonly Connection $database, private readonly Gate $gate)
    {
    }

    public function reset(): void
    {
        $this->granted = [];
    }

    /** A condition for rows of addresses. */
    public function condition(Viewer $viewer, string $alias = 'a'): string
    {
        $sight = $this->gate->sight($viewer);

        return $sight->isWhole() ? '1 = 1' : \sprintf(
            '(%1$s.open_last_at IS NOT NULL%2$s)', $alias, $sight->isOpenOnly() ? '' : \sprintf(
                ' OR EXISTS (SELECT 1 FROM capture s WHERE s.address_id = %s.id AND s.limited = 1 AND %s)',
                $alias, $sight->reaches('s.code'),
            ),
        );
    }

    /**
     * Rows of addresses as they are seen: `captures`, `first_at`, `last_at` and `last_alive_at`, as far as a row has them, are put right.
     *
     * @param list<array<string, mixed>> $rows with `id` and `limited`
     *
     * @return list<array<string, mixed>> those of them that are there
     */
    public function rows(Viewer $viewer, array $rows): array
    {
        $limited = array_values(array_filter(
            array_map(static fn (array $row): Row => new Row($row), $rows), static fn (Row $row): bool => $row->int('limited') > 0,
        ));
        if ([] === $limited || $this->gate->sight($viewer)->isWhole()) {
            return $rows;
        }
        $numbers = $this->numbers($viewer, array_map(static fn (Row $row): array => [
            'id' => $row->int('id'), 'captures' => $row->int('captures'), 'limited' => $row->int('limited'),
        ], $limited));
        $seen = [];
        foreach ($rows as $row) {
            $own = $numbers[(new Row($row))->int('id')] ?? null;
            if (null === $own) {
                $seen[] = $row;
            } elseif ($own->int('captures') > 0) {
                $seen[] = [
                    'captures' => $own->int('captures'), 'first_at' => $own->text('first_at'), 'last_at' => $own->text('last_at'),
                    'last_alive_at' => $own->textOrNull('last_alive_at'),
                ] + $row;
            }
        }

        return $seen;
    }

    /**
     * Captures of an address that are limited to some and were granted to a person.
     *
     * @param int $id of the address
     * @param int $limited how many of its captures are limited to some
     *
     * @return list<int>|null numbers of captures; null if there are too many to name
     */
    public function granted(Viewer $viewer, int $id, int $limited): ?array
    {
        $sight = $this->gate->sight($viewer);
        if (0 === $limited || $sight->isOpenOnly()) {
            return [];
        }
        if ($limited > self::REMEMBERED) {
            return null;
        }

        return $this->granted[$id.' '.$limited.' '.$viewer->name] ??= array_map(
            static fn (mixed $one): int => is_numeric($one) ? (int) $one : 0,
            $this->database->fetchFirstColumn(
                'SELECT c.id FROM capture c FORCE INDEX (capture_limited_of) WHERE c.address_id = ? AND c.limited = 1 AND '
                    .$sight->reaches('c.code'),
                [$id],
            ),
        );
    }

    /**
     * The numbers of addresses as they are seen. Each is asked for by itself: where the database knows which address is meant, it reads
     * the ends of its history from the index.
     *
     * @param list<array{id: int, captures: int, limited: int}> $addresses
     *
     * @return array<int, Row> by number of the address
     */
    private function numbers(Viewer $viewer, array $addresses): array
    {
        $sight = $this->gate->sight($viewer);
        $seen = $sight->of('s.limited', 's.code');
        $numbers = [];
        foreach (array_chunk($addresses, self::AT_ONCE) as $some) {
            $questions = array_map(function (array $one) use ($viewer, $sight, $seen): string {
                ['id' => $id, 'captures' => $captures, 'limited' => $limited] = $one;
                $of = "FROM capture s WHERE s.address_id = {$id} AND";
                $granted = $this->granted($viewer, $id, $limited);
                $granted = null === $granted ? "(SELECT COUNT(*) {$of} s.limited = 1 AND ".$sight->reaches('s.code').')' : \count($granted);

                return "SELECT {$id} AS id, ".($captures - $limited)." + {$granted} AS captures,"
                    ." (SELECT s.captured_at {$of} {$seen} ORDER BY s.captured_at LIMIT 1) AS first_at,"
                    ." (SELECT s.captured_at {$of} {$seen} ORDER BY s.captured_at DESC LIMIT 1) AS last_at,"
                    ." (SELECT s.captured_at {$of} s.status BETWEEN 200 AND 299 AND {$seen} ORDER BY s.captured_at DESC LIMIT 1)"
                    .' AS last_alive_at';
            }, $some);
            foreach ($this->database->fetchAllAssociative(implode(' UNION ALL ', $questions)) as $values) {
                $row = new Row($values);
                $numbers[$row->int('id')] = $row;
            }
        }

        return $numbers;
    }

    /**
     * The addresses that were captured last, as far as is seen, as a table `l` of their numbers and of the last times, joined with
     * addresses `a`. (Asked for by IN, the database would go through all addresses.).
     *
     * @return string SQL, from FROM on
     */
    public function latest(Viewer $viewer, int $most): string
    {
        $sight = $this->gate->sight($viewer);
        [$column, $of] = $sight->isWhole() ? ['last_at', ''] : ['open_last_at', ' WHERE open_last_at IS NOT NULL'];
        $latest = \sprintf('SELECT id, %1$s AS at FROM address%2$s ORDER BY %1$s DESC, id DESC LIMIT %3$d', $column, $of, $most);
        if (!$sight->isWhole() && !$sight->isOpenOnly()) {
            // What they may see beside what everybody may.
            $latest = \sprintf(
                'SELECT id, MAX(at) AS at FROM (SELECT * FROM (%s) o UNION ALL SELECT s.address_id, s.captured_at FROM'
                    .' (SELECT c.address_id, c.code, c.captured_at FROM capture c WHERE c.limited = 1'
                    .' ORDER BY c.captured_at DESC LIMIT %d) s WHERE %s) e GROUP BY id ORDER BY at DESC, id DESC LIMIT %d',
                $latest, self::LATEST_LIMITED, $sight->reaches('s.code'), $most,
            );
        }

        return 'FROM ('.$latest.') l JOIN address a ON a.id = l.id';
    }

    /**
     * @param list<Address> $addresses
     *
     * @return list<Address> those of them that are there, with the numbers that are seen; for showing, not for writing
     */
    public function of(Viewer $viewer, array $addresses): array
    {
        $limited = array_filter($addresses, static fn (Address $one): bool => $one->limited > 0);
        if ([] === $limited || $this->gate->sight($viewer)->isWhole()) {
            return $addresses;
        }
        $rows = $this->numbers($viewer, array_map(static fn (Address $one): array => [
            'id' => (int) $one->id, 'captures' => $one->captures, 'limited' => $one->limited,
        ], array_values($limited)));
        $seen = [];
        foreach ($addresses as $one) {
            $row = 0 === $one->limited ? null : $rows[(int) $one->id] ?? null;
            if (null === $row) {
                $seen[] = $one;
            } elseif ($row->int('captures') > 0) {
                $seen[] = $one->with(
                    $row->int('captures'), $row->moment('first_at'), $row->moment('last_at'), $row->momentOrNull('last_alive_at'),
                );
            }
        }

        return $seen;
    }
}
