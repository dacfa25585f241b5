<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\Connection;
use Ypomna\App\Access\Gate;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;

/** Held addresses by the beginning of their digest (SHA-256 of the address as the URL Standard writes it, without its fragment). */
final readonly class HeldPrefixes
{
    private const MOST = 20_000;

    public function __construct(private Connection $database, private Gate $gate)
    {
    }

    /**
     * @param string $prefix five hex digits
     *
     * @return list<array{rest: string, held: int, last: \DateTimeImmutable, status: int}> with the other digits, in their order
     */
    public function under(Viewer $viewer, string $prefix): array
    {
        $rows = $this->database->fetchAllAssociative(
            \sprintf(
                <<<'SQL'
                    SELECT c.url, c.captured_at, c.status FROM record r FORCE INDEX (record_url)
                    JOIN capture c ON c.warc_file_id = r.warc_file_id AND c.response_offset = r.at_offset
                    WHERE r.url_hash BETWEEN ? AND ? AND r.role = 'answer' AND %s
                    ORDER BY c.captured_at, c.id LIMIT %d
                    SQL,
                $this->gate->sight($viewer)->of('c.limited', 'c.code'), self::MOST,
            ),
            [hex2bin($prefix.str_repeat('0', 27)), hex2bin($prefix.str_repeat('f', 27))],
        );
        $found = [];
        foreach ($rows as $values) {
            $row = new Row($values);
            $url = (string) (Url::tryParse($row->text('url'))?->withoutFragment() ?? $row->text('url'));
            $digest = hash('sha256', $url);
            if (str_starts_with($digest, $prefix)) {
                $found[$digest] = [
                    'rest' => substr($digest, \strlen($prefix)), 'held' => ($found[$digest]['held'] ?? 0) + 1,
                    'last' => $row->moment('captured_at'), 'status' => $row->int('status'),
                ];
            }
        }
        ksort($found, \SORT_STRING);

        return array_values($found);
    }
}
