<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Viewer;

/** Which of many addresses are held, and since when. */
final readonly class HeldAddresses
{
    private const AT_ONCE = 500;

    public function __construct(private Connection $database, private SeenAddresses $seen)
    {
    }

    /**
     * @param list<string> $urls
     *
     * @return array<string, array{code: string, captures: int, lastAt: \DateTimeImmutable}> by address as it was given
     */
    public function of(Viewer $viewer, array $urls): array
    {
        $keys = [];
        foreach ($urls as $url) {
            $keys[$url] = AddressKeys::keyOf($url);
        }
        $rows = [];
        foreach (array_chunk(array_values(array_unique($keys)), self::AT_ONCE) as $some) {
            foreach ($this->seen->rows($viewer, $this->database->fetchAllAssociative(
                'SELECT a.url_key, a.code, '.SeenAddresses::COLUMNS.' FROM address a WHERE a.url_key IN (?) AND '
                    .$this->seen->condition($viewer),
                [$some],
                [ArrayParameterType::BINARY],
            )) as $values) {
                $row = new Row($values);
                $rows[$row->text('url_key')] = [
                    'code' => $row->text('code'), 'captures' => $row->int('captures'), 'lastAt' => $row->moment('last_at'),
                ];
            }
        }

        return array_filter(array_map(static fn (string $key): ?array => $rows[$key] ?? null, $keys));
    }
}
