<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Access\Grants;
use Ypomna\App\Shared\Row;

/**
 * Tells the gate who sees items: whoever sees one of their dossiers; of one that lies in none, whoever sees the item above it, else
 * who made it; of a confidential one, its maker and the people of its dossiers.
 */
final readonly class ItemGrants
{
    private const AT_ONCE = 500;
    private const MOST_DEPTH = 110;

    public function __construct(private Connection $database, private Grants $grants)
    {
    }

    /**
     * Looks anew at items and at those below them that lie in no dossier by themselves.
     *
     * @param list<int> $ids
     */
    public function refresh(array $ids): void
    {
        for ($depth = 0; [] !== $ids && $depth < self::MOST_DEPTH; ++$depth) {
            $next = [];
            foreach (array_chunk(array_values(array_unique($ids)), self::AT_ONCE) as $some) {
                $this->some($some);
                array_push($next, ...$this->childrenInNone($some));
            }
            $ids = $next;
        }
    }

    /** @param list<int> $dossiers numbers of those that were opened or closed to all, deleted or brought back */
    public function ofDossiers(array $dossiers): void
    {
        foreach ($dossiers as $dossier) {
            $after = 0;
            do {
                $ids = self::ints($this->database->fetchFirstColumn(
                    'SELECT item_id FROM item_dossier WHERE dossier_id = ? AND item_id > ? ORDER BY item_id LIMIT '.self::AT_ONCE,
                    [$dossier, $after],
                ));
                $this->refresh($ids);
                $after = [] === $ids ? 0 : $ids[\count($ids) - 1];
            } while (self::AT_ONCE === \count($ids));
        }
    }

    /** @param list<int> $ids */
    private function some(array $ids): void
    {
        $dossiers = [];
        foreach ($this->database->fetchAllAssociative(
            'SELECT h.item_id, d.code, d.limited FROM item_dossier h JOIN dossier d ON d.id = h.dossier_id'
                .' WHERE h.item_id IN (?) AND d.deleted_at IS NULL',
            [$ids], [ArrayParameterType::INTEGER],
        ) as $values) {
            $row = new Row($values);
            $dossiers[$row->int('item_id')][$row->text('code')] = 1 === $row->int('limited');
        }
        $items = $this->database->fetchAllAssociative(
            'SELECT i.id, i.code, i.confidential, i.created_by, p.code AS above, p.limited AS above_limited FROM item i'
                .' LEFT JOIN item p ON p.id = i.parent_id AND p.deleted_at IS NULL WHERE i.id IN (?)',
            [$ids], [ArrayParameterType::INTEGER],
        );
        foreach ($items as $values) {
            $row = new Row($values);
            $own = $dossiers[$row->int('id')] ?? [];
            $above = [] === $own ? $row->textOrNull('above') : null;
            $holders = null === $above ? array_map(strval(...), array_keys($own)) : $this->grants->holders($above);
            $maker = match (true) {
                1 === $row->int('confidential') => $row->text('created_by'),
                null !== $above => $this->grants->maker($above),
                default => [] === $own ? $row->text('created_by') : null,
            };
            $isOpen = null === $above ? \in_array(false, $own, true) : 0 === $row->int('above_limited');
            $this->grants->replace($row->text('code'), $maker, $holders);
            $this->database->executeStatement(
                'UPDATE item SET limited = ? WHERE id = ?', [$isOpen && 0 === $row->int('confidential') ? 0 : 1, $row->int('id')],
            );
        }
    }

    /**
     * @param list<int> $ids
     *
     * @return list<int>
     */
    private function childrenInNone(array $ids): array
    {
        return self::ints($this->database->fetchFirstColumn(
            <<<'SQL'
                SELECT i.id FROM item i WHERE i.parent_id IN (?) AND NOT EXISTS (
                    SELECT 1 FROM item_dossier h JOIN dossier d ON d.id = h.dossier_id WHERE h.item_id = i.id AND d.deleted_at IS NULL
                )
                SQL,
            [$ids], [ArrayParameterType::INTEGER],
        ));
    }

    /**
     * @param list<mixed> $values
     *
     * @return list<int>
     */
    private static function ints(array $values): array
    {
        return array_map(static fn (mixed $value): int => is_numeric($value) ? (int) $value : 0, $values);
    }
}
