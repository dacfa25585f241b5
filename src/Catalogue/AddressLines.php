<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Catalogue\Value\AddressLine;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Viewer;

/** Makes the lines of a list of addresses: to each the title and the capture that show its page best. */
final readonly class AddressLines
{
    public function __construct(private Connection $database)
    {
    }

    /**
     * @param list<Row> $addresses with `id`, `code`, `url`, `captures` and `last_at`
     *
     * @return list<AddressLine> in the order of the addresses
     */
    public function of(Viewer $viewer, array $addresses): array
    {
        $sql = <<<'SQL'
            SELECT a.id, c.code, c.title, c.dom_offset IS NOT NULL AS has_picture
            FROM address a JOIN capture c ON c.id = (
                SELECT n.id FROM capture n
                WHERE n.address_id = a.id AND n.captured_at = COALESCE(a.last_alive_at, a.last_at)
                ORDER BY n.id DESC LIMIT 1
            )
            WHERE a.id IN (?)
            SQL;
        $ids = array_map(static fn (Row $row): int => $row->int('id'), $addresses);
        $best = [];
        foreach ([] === $ids ? [] : $this->database->fetchAllAssociative($sql, [$ids], [ArrayParameterType::INTEGER]) as $values) {
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
