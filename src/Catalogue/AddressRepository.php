<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\Value\AddressLine;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Key;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Address\Variants;

/** Finds addresses: by code, by any of their spellings, and those that lie near one. */
final readonly class AddressRepository
{
    public const PAGE = 50;
    private const NEAR = 12;

    public function __construct(private Connection $database, private EntityManagerInterface $entities, private AddressLines $lines)
    {
    }

    public function byCode(Viewer $viewer, string $code): ?Address
    {
        return $this->entities->getRepository(Address::class)->findOneBy(['code' => $code]);
    }

    public function of(Viewer $viewer, string $url): ?Address
    {
        return $this->entities->getRepository(Address::class)->findOneBy(['urlKey' => AddressKeys::keyOf($url)]);
    }

    /**
     * Addresses whose keys lie in a range, as they are written.
     *
     * @param bool $alive only those of which a capture has the page itself
     *
     * @return list<string> in the order of their keys
     */
    public function urls(Viewer $viewer, string $from, string $to, int $most, bool $alive = false): array
    {
        $urls = $this->database->fetchFirstColumn(
            'SELECT url FROM address WHERE url_key >= ? AND url_key < ?'.($alive ? ' AND last_alive_at IS NOT NULL' : '')
                .' ORDER BY url_key LIMIT '.max(1, $most),
            [$from, $to],
        );

        return array_values(array_filter($urls, \is_string(...)));
    }

    /** Number of the address that became known last; 0 if there is none. */
    public function last(Viewer $viewer): int
    {
        $last = $this->database->fetchOne('SELECT MAX(id) FROM address');

        return is_numeric($last) ? (int) $last : 0;
    }

    /**
     * The lives of addresses that were once captured alive, as far as captures tell: when they were first captured, last captured alive,
     * and first captured as gone since. The hash of the key is hex.
     *
     * @param list<int> $ids
     *
     * @return list<array{
     *     url: string, key_hash: string, first: \DateTimeImmutable|null, alive: \DateTimeImmutable|null, gone: \DateTimeImmutable|null,
     * }>
     */
    public function lives(Viewer $viewer, array $ids): array
    {
        $rows = $this->database->fetchAllAssociative(
            <<<'SQL'
                SELECT a.url, LEFT(SHA2(a.url_key, 256), 32) AS key_hash, a.last_alive_at,
                    (SELECT MIN(c.captured_at) FROM capture c WHERE c.address_id = a.id AND c.status BETWEEN 200 AND 299) AS first_at,
                    (SELECT MIN(c.captured_at) FROM capture c
                        WHERE c.address_id = a.id AND c.captured_at > a.last_alive_at AND c.status IN (404, 410)) AS gone_at
                FROM address a WHERE a.id IN (?) AND a.last_alive_at IS NOT NULL
                SQL,
            [$ids],
            [ArrayParameterType::INTEGER],
        );

        return array_map(static function (array $values): array {
            $row = new Row($values);

            return [
                'url' => $row->text('url'), 'key_hash' => $row->text('key_hash'), 'first' => $row->momentOrNull('first_at'),
                'alive' => $row->momentOrNull('last_alive_at'), 'gone' => $row->momentOrNull('gone_at'),
            ];
        }, $rows);
    }

    /**
     * Addresses whose keys lie in a range, in the order of their keys.
     *
     * @param array{string, string} $range from the first to before the second
     * @param string $after code of the address that was shown last; '' at the beginning
     *
     * @return list<AddressLine>
     */
    public function under(Viewer $viewer, array $range, string $after): array
    {
        $last = '' === $after ? false : $this->database->fetchOne('SELECT url_key FROM address WHERE code = ?', [$after]);

        return $this->rows(
            $viewer, 'WHERE url_key >= ? AND url_key < ? AND url_key > ? ORDER BY url_key', self::PAGE,
            [$range[0], $range[1], \is_string($last) ? $last : ''],
        );
    }

    /**
     * What is held under other addresses that often lead to the same page, the likeliest first.
     *
     * @return list<AddressLine>
     */
    public function variants(Viewer $viewer, Url $url): array
    {
        $keys = array_values(array_unique(array_map(
            static fn (Url $variant): string => AddressKeys::ofParsed($variant, (string) $variant), Variants::of($url),
        )));
        if ([] === $keys) {
            return [];
        }

        return $this->rows(
            $viewer, 'WHERE url_key IN (?) ORDER BY FIELD(url_key, ?)', self::NEAR,
            [$keys, $keys],
            [ArrayParameterType::BINARY, ArrayParameterType::BINARY],
        );
    }

    /**
     * Addresses that were kept and lie near one that was not: in its folder, else on its host or below.
     *
     * @return list<AddressLine>
     */
    public function near(Viewer $viewer, Url $url): array
    {
        $host = rtrim(Key::hostPrefix($url), ' ');
        foreach ([[Key::folderPrefix($url, AddressKeys::rules()), "\xFF"], [$host.' ', "\xFF"], [$host, "!\xFF"]] as [$from, $to]) {
            $found = $this->range($viewer, AddressKeys::stored($from), AddressKeys::stored($from).$to);
            if ([] !== $found) {
                return $found;
            }
        }
        $path = AddressKeys::canonical($url);
        $last = basename((string) parse_url($path, \PHP_URL_PATH));

        return \strlen($last) < 4 ? [] : $this->withName($viewer, $last);
    }

    /**
     * The addresses kept most lately.
     *
     * @return list<AddressLine>
     */
    public function recent(Viewer $viewer, int $limit): array
    {
        return $this->rows($viewer, 'ORDER BY last_at DESC, id DESC', $limit);
    }

    /**
     * @return list<AddressLine>
     */
    private function range(Viewer $viewer, string $from, string $to): array
    {
        return $this->rows($viewer, 'WHERE url_key >= ? AND url_key < ? ORDER BY url_key', self::NEAR, [$from, $to]);
    }

    /**
     * The same last piece of the path on other hosts; looked for among the addresses kept most lately only.
     *
     * @return list<AddressLine>
     */
    private function withName(Viewer $viewer, string $name): array
    {
        return $this->rows(
            $viewer,
            'WHERE id IN (SELECT id FROM (SELECT id FROM address ORDER BY last_at DESC, id DESC LIMIT 5000) l) AND url LIKE ?'
                .' ORDER BY last_at DESC',
            self::NEAR,
            ['%/'.addcslashes($name, '%_\\').'%'],
        );
    }

    /**
     * @param string $which condition and order of the addresses
     * @param list<mixed> $parameters
     * @param list<ArrayParameterType> $types
     *
     * @return list<AddressLine>
     */
    private function rows(Viewer $viewer, string $which, int $most, array $parameters = [], array $types = []): array
    {
        $sql = \sprintf('SELECT id, code, url, captures, last_at FROM address %s LIMIT %d', $which, $most);
        $rows = $this->database->fetchAllAssociative($sql, $parameters, $types);

        return $this->lines->of($viewer, array_map(static fn (array $values): Row => new Row($values), $rows));
    }
}
