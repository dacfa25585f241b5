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
        $of = static fn (string $what, string $column, string $which = ''): string => \sprintf(
            'IF(a.limited = 0, a.%2$s, (SELECT %1$s FROM capture s WHERE s.address_id = a.id%3$s AND %4$s)) AS %2$s',
            $what, $column, $which, $sight->of('s.limited', 's.code'),
        );

        return implode(', ', [
            $of('COUNT(*)', 'captures'), $of('MIN(s.captured_at)', 'first_at'), $of('MAX(s.captured_at)', 'last_at'),
            $of('MAX(s.captured_at)', 'last_alive_at', ' AND s.status BETWEEN 200 AND 299'),
        ]);
    }

    /**
     * Numbers of the addresses that were captured last.
     *
     * @return list<int> in no order
     */
    public function latest(Viewer $viewer, int $most): array
    {
        $sight = $this->gate->sight($viewer);
        $order = $sight->isWhole() ? 'last_at' : 'open_last_at';
        $ids = $this->database->fetchFirstColumn(\sprintf(
            'SELECT id FROM address%s ORDER BY %s DESC, id DESC LIMIT %d',
            $sight->isWhole() ? '' : ' WHERE open_last_at IS NOT NULL', $order, $most,
        ));
        if (!$sight->isWhole() && null !== $viewer->name) {
            // What they may see beside what everybody may.
            array_push($ids, ...$this->database->fetchFirstColumn(\sprintf(
                <<<'SQL'
                    SELECT l.address_id FROM (
                        SELECT s.address_id, s.captured_at FROM address a JOIN capture s ON s.address_id = a.id
                        WHERE a.limited > 0 AND s.limited = 1 AND %s ORDER BY s.captured_at DESC LIMIT %d
                    ) l GROUP BY l.address_id
                    SQL,
                $sight->reaches('s.code'), self::LATEST_LIMITED,
            )));
        }

        return array_values(array_unique(array_map(static fn (mixed $id): int => is_numeric($id) ? (int) $id : 0, $ids)));
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
