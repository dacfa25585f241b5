<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Access\Gate;
use Ypomna\App\Search\Value\Stood;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;

/** In which captures texts stand, as far as somebody sees them. */
final readonly class Stands
{
    public function __construct(private Connection $database, private Gate $gate)
    {
    }

    /**
     * @param list<int> $texts
     *
     * @return array<int, true> those that stand in a capture that is limited to some, whoever asks among them
     */
    public function reached(Viewer $viewer, array $texts): array
    {
        $found = [] === $texts ? [] : $this->database->fetchFirstColumn(
            'SELECT DISTINCT s.text_id FROM search_stand s WHERE s.text_id IN (?) AND '.$this->condition($viewer), [$texts],
            [ArrayParameterType::INTEGER],
        );

        return array_fill_keys(array_map(intval(...), array_filter($found, is_numeric(...))), true);
    }

    /**
     * @param array<int, list<int>> $groups texts, each list of one address
     *
     * @return array<int, Stood> by the number of the list; of those that nobody sees there is none
     */
    public function of(Viewer $viewer, array $groups): array
    {
        $texts = array_merge([], ...array_values($groups));
        if ([] === $texts) {
            return [];
        }
        $seen = $this->condition($viewer);
        $of = [];
        foreach ($this->database->fetchAllAssociative(
            "SELECT s.address_id, MIN(s.captured_at) AS first, MAX(s.captured_at) AS last, COUNT(*) AS n FROM search_stand s
                WHERE s.text_id IN (?) AND {$seen} GROUP BY s.address_id",
            [$texts], [ArrayParameterType::INTEGER],
        ) as $values) {
            $of[(new Row($values))->int('address_id')] = new Row($values);
        }
        $all = [] === $of ? [] : $this->database->fetchAllKeyValue(
            "SELECT s.address_id, COUNT(*) FROM search_stand s WHERE s.address_id IN (?) AND {$seen} GROUP BY s.address_id",
            [array_keys($of)], [ArrayParameterType::INTEGER],
        );
        $addresses = $this->database->fetchAllKeyValue(
            'SELECT id, subject_id FROM search_text WHERE id IN (?)',
            [array_values(array_map(static fn (array $some): int => $some[0] ?? 0, $groups))],
            [ArrayParameterType::INTEGER],
        );
        $absent = $this->absent($viewer, $of);
        $stood = [];
        foreach ($groups as $n => $some) {
            $address = $addresses[$some[0] ?? 0] ?? null;
            $row = is_numeric($address) ? $of[(int) $address] ?? null : null;
            if (null !== $row) {
                $count = $all[$row->int('address_id')] ?? 0;
                $stood[$n] = new Stood($row->moment('first'), $row->moment('last'), $row->int('n'), is_numeric($count) ? (int) $count : 0,
                    $absent[$row->int('address_id')] ?? null);
            }
        }

        return $stood;
    }

    /**
     * @param array<int, Row> $of by address, with the last moment at which something stood there
     *
     * @return array<int, \DateTimeImmutable> of the first capture behind that
     */
    private function absent(Viewer $viewer, array $of): array
    {
        $parts = $values = [];
        foreach ($of as $address => $row) {
            $parts[] = '(SELECT s.address_id, s.captured_at FROM search_stand s WHERE s.address_id = ? AND s.captured_at > ? AND '
                .$this->condition($viewer).' ORDER BY s.captured_at LIMIT 1)';
            array_push($values, $address, MomentType::text($row->moment('last')));
        }
        $absent = [];
        foreach ([] === $parts ? [] : $this->database->fetchAllAssociative(implode(' UNION ALL ', $parts), $values) as $found) {
            $row = new Row($found);
            $absent[$row->int('address_id')] = $row->moment('captured_at');
        }

        return $absent;
    }

    /**
     * @param list<int> $texts
     *
     * @return array<int, string> code of the last capture in which each stands
     */
    public function last(Viewer $viewer, array $texts): array
    {
        $last = [];
        foreach ([] === $texts ? [] : $this->database->fetchAllAssociative(
            'SELECT t.id, (SELECT s.code FROM search_stand s WHERE s.text_id = t.id AND '.$this->condition($viewer)
                .' ORDER BY s.captured_at DESC LIMIT 1) AS code FROM search_text t WHERE t.id IN (?)',
            [$texts], [ArrayParameterType::INTEGER],
        ) as $values) {
            $row = new Row($values);
            if (null !== $row->textOrNull('code')) {
                $last[$row->int('id')] = $row->text('code');
            }
        }

        return $last;
    }

    /**
     * All captures of an address that somebody sees, the oldest first.
     *
     * @return list<array{text: int, at: \DateTimeImmutable, code: string}>
     */
    public function captures(Viewer $viewer, int $address): array
    {
        return array_map(static function (array $values): array {
            $row = new Row($values);

            return ['text' => $row->int('text_id'), 'at' => $row->moment('captured_at'), 'code' => $row->text('code')];
        }, $this->database->fetchAllAssociative(
            'SELECT s.text_id, s.captured_at, s.code FROM search_stand s WHERE s.address_id = ? AND '.$this->condition($viewer)
                .' ORDER BY s.captured_at, s.capture_id',
            [$address],
        ));
    }

    /**
     * The same of several addresses that have few.
     *
     * @param list<int> $addresses
     *
     * @return array<int, list<array{text: int, at: \DateTimeImmutable, code: string}>> by address
     */
    public function capturesOf(Viewer $viewer, array $addresses): array
    {
        $captures = [];
        foreach ([] === $addresses ? [] : $this->database->fetchAllAssociative(
            'SELECT s.address_id, s.text_id, s.captured_at, s.code FROM search_stand s WHERE s.address_id IN (?) AND '
                .$this->condition($viewer).' ORDER BY s.captured_at, s.capture_id',
            [$addresses], [ArrayParameterType::INTEGER],
        ) as $values) {
            $row = new Row($values);
            $captures[$row->int('address_id')][] = [
                'text' => $row->int('text_id'), 'at' => $row->moment('captured_at'), 'code' => $row->text('code'),
            ];
        }

        return $captures;
    }

    /**
     * @param list<string> $captures codes
     *
     * @return list<int> numbers of the addresses whose captures they are
     */
    public function addresses(Viewer $viewer, array $captures): array
    {
        return array_values(array_map(intval(...), array_filter([] === $captures ? [] : $this->database->fetchFirstColumn(
            'SELECT DISTINCT s.address_id FROM search_stand s WHERE s.code IN (?) AND '.$this->condition($viewer), [$captures],
            [ArrayParameterType::STRING],
        ), is_numeric(...))));
    }

    private function condition(Viewer $viewer): string
    {
        return $this->gate->sight($viewer)->of('s.limited', 's.code');
    }
}
