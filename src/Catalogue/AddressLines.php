<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\Connection;
use Ypomna\App\Access\Gate;
use Ypomna\App\Catalogue\Value\AddressLine;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Viewer;

/** Makes the lines of a list of addresses: to each the title and the capture that show its page best. */
final readonly class AddressLines
{
    public function __construct(private Connection $database, private Gate $gate)
    {
    }

    /**
     * @param list<Row> $addresses with `id`, `code`, `url`, and `captures`, `last_at` and `last_alive_at` as they are seen
     *
     * @return list<AddressLine> in the order of the addresses
     */
    public function of(Viewer $viewer, array $addresses): array
    {
        $sql = <<<'SQL'
            SELECT c.address_id AS id, c.code, c.title, (c.dom_offset IS NOT NULL OR c.how = 'witness') AS has_picture
            FROM capture c WHERE (%s) AND %s ORDER BY c.id
            SQL;
        $places = [];
        foreach ($addresses as $row) {
            $places[] = $row->int('id');
            $places[] = $row->textOrNull('last_alive_at') ?? $row->text('last_at');
        }
        $best = [];
        foreach ([] === $addresses ? [] : $this->database->fetchAllAssociative(\sprintf(
            $sql,
            implode(' OR ', array_fill(0, \count($addresses), '(c.address_id = ? AND c.captured_at = ?)')),
            $this->gate->sight($viewer)->of('c.limited', 'c.code'),
        ), $places) as $values) {
            $row = new Row($values);
            $best[$row->int('id')] = $row;
        }

        return array_map(static function (Row $row) use ($best): AddressLine {
            $shown = $best[$row->int('id')] ?? null;

            return new AddressLine(
                $row->text('code'), $row->text('url'), $row->int('captures'), $row->moment('last_at'), $shown?->textOrNull('title'),
                $shown?->text('code'), 1 === $shown?->int('has_picture'),
            );
        }, $addresses);
    }
}
