<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Access\Gate;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Viewer;

/**
 * Addresses as somebody sees them: how many captures there are, and from when to when, without those that they may not see. An address
 * of which they may see none is not there. Hardly any address has captures that are limited to some; the others cost nothing more.
 */
final readonly class SeenAddresses
{
    /** So many of the latest captures that are limited to some are looked at where addresses are wanted by the time of their last one. */
    private const LATEST_LIMITED = 500;

    public function __construct(private Connection $database, private Gate $gate)
    {
    }

    /** A condition for rows of addresses. */
    public function condition(Viewer $viewer, string $alias = 'a'): string
    {
        $sight = $this->gate->sight($viewer);

        return $sight->isWhole() ? '1 = 1' : \sprintf(
            '(%1$s.limited = 0 OR EXISTS (SELECT 1 FROM capture s WHERE s.address_id = %1$s.id AND %2$s))',
            $alias, $sight->of('s.limited', 's.code'),
        );
    }

    /** The columns `captures`, `first_at`, `last_at` and `last_alive_at` of addresses `a`. */
    public function columns(Viewer $viewer): string
    {
        $sight = $this->gate->sight($viewer);
        if ($sight->isWhole()) {
            return 'a.captures, a.first_at, a.last_at, a.last_alive_at';
        }
        $seen = $sight->of('s.limited', 's.code');
        $end = static fn (string $order, string $column, string $which = ''): string => \sprintf(
            'IF(a.limited = 0, a.%2$s, (SELECT s.captured_at FROM capture s WHERE s.address_id = a.id%3$s AND %4$s'
                .' ORDER BY s.captured_at %1$s LIMIT 1)) AS %2$s',
            $order, $column, $which, $seen,
        );
        $granted = null === $viewer->name ? '0' : 'IF(a.limited = 0, 0, (SELECT COUNT(*) FROM capture s WHERE s.address_id = a.id'
            .' AND s.limited = 1 AND '.$sight->reaches('s.code').'))';

        return implode(', ', [
            'a.captures - a.limited + '.$granted.' AS captures', $end('ASC', 'first_at'), $end('DESC', 'last_at'),
            $end('DESC', 'last_alive_at', ' AND s.status BETWEEN 200 AND 299'),
        ]);
    }

    /**
     * A question for the numbers of the addresses that were captured last, in no order; for a condition with IN.
     *
     * @return string SQL in brackets
     */
    public function latest(Viewer $viewer, int $most): string
    {
        $sight = $this->gate->sight($viewer);
        if ($sight->isWhole()) {
            return \sprintf('(SELECT id FROM (SELECT id FROM address ORDER BY last_at DESC, id DESC LIMIT %d) l)', $most);
        }
        $sql = 'SELECT id FROM (SELECT id FROM address WHERE open_last_at IS NOT NULL ORDER BY open_last_at DESC, id DESC LIMIT %d) l';
        // What they may see beside what everybody may.
        $own = null === $viewer->name ? '' : \sprintf(
            ' UNION SELECT address_id FROM (SELECT s.address_id FROM (%s) t JOIN capture s ON s.code = t.thing'
                .' ORDER BY s.captured_at DESC LIMIT %d) o',
            $sight->things(), self::LATEST_LIMITED,
        );

        return '('.\sprintf($sql, $most).$own.')';
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
        $rows = [];
        foreach ($this->database->fetchAllAssociative(
            'SELECT a.id, '.$this->columns($viewer).' FROM address a WHERE a.id IN (?)',
            [array_map(static fn (Address $one): int => (int) $one->id, array_values($limited))],
            [ArrayParameterType::INTEGER],
        ) as $values) {
            $row = new Row($values);
            $rows[$row->int('id')] = $row;
        }
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
