<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Ypomna\App\Access\Gate;
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
    private const LATEST = 5_000;
    private const AT_ONCE = 500;

    public function __construct(
        private Connection $database,
        private EntityManagerInterface $entities,
        private AddressLines $lines,
        private SeenAddresses $seen,
        private Gate $gate,
    ) {
    }

    public function byCode(Viewer $viewer, string $code): ?Address
    {
        return $this->one($viewer, ['code' => $code]);
    }

    public function of(Viewer $viewer, string $url): ?Address
    {
        return $this->one($viewer, ['urlKey' => AddressKeys::keyOf($url)]);
    }

    /** @param array<string, string> $which */
    private function one(Viewer $viewer, array $which): ?Address
    {
        $address = $this->entities->getRepository(Address::class)->findOneBy($which);

        return null === $address ? null : $this->seen->of($viewer, [$address])[0] ?? null;
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
            'SELECT a.url FROM address a WHERE a.url_key >= ? AND a.url_key < ? AND '
                .($alive ? $this->aliveOnce($viewer) : $this->seen->condition($viewer)).' ORDER BY a.url_key LIMIT '.max(1, $most),
            [$from, $to],
        );

        return array_values(array_filter($urls, \is_string(...)));
    }

    /**
     * @param list<int> $ids
     *
     * @return list<string> codes of those that are there
     */
    public function codesOf(Viewer $viewer, array $ids): array
    {
        return [] === $ids ? [] : array_values(array_filter($this->database->fetchFirstColumn(
            'SELECT a.code FROM address a WHERE a.id IN (?) AND '.$this->seen->condition($viewer), [$ids], [ArrayParameterType::INTEGER],
        ), \is_string(...)));
    }

    /**
     * @param list<int> $ids
     *
     * @return array<int, array{code: string, captures: int}> by number, of those that are there; of captures, how many there are, whoever
     *     sees them: told to nobody
     */
    public function byNumbers(Viewer $viewer, array $ids): array
    {
        $addresses = [];
        foreach ([] === $ids ? [] : $this->database->fetchAllAssociative(
            'SELECT a.id, a.code, a.captures FROM address a WHERE a.id IN (?) AND '.$this->seen->condition($viewer), [$ids],
            [ArrayParameterType::INTEGER],
        ) as $values) {
            $row = new Row($values);
            $addresses[$row->int('id')] = ['code' => $row->text('code'), 'captures' => $row->int('captures')];
        }

        return $addresses;
    }

    /**
     * Those of them that are held, and of which only some may see a capture.
     *
     * @param list<string> $urls
     *
     * @return array<string, true> by address as it was given, as far as the viewer sees them
     */
    public function confidential(Viewer $viewer, array $urls): array
    {
        $keys = [];
        foreach ($urls as $url) {
            $keys[AddressKeys::keyOf($url)][] = $url;
        }
        $found = [];
        foreach (array_chunk(array_map(\strval(...), array_keys($keys)), self::AT_ONCE) as $some) {
            foreach ($this->database->fetchFirstColumn(
                'SELECT a.url_key FROM address a WHERE a.url_key IN (?) AND a.limited > 0 AND a.open_last_at IS NULL AND '
                    .$this->seen->condition($viewer),
                [$some],
                [ArrayParameterType::BINARY],
            ) as $key) {
                $found += array_fill_keys(\is_string($key) ? $keys[$key] ?? [] : [], true);
            }
        }

        return $found;
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
        $sight = $this->gate->sight($viewer);
        $sql = <<<'SQL'
            SELECT a.url, a.key_hash, a.last_alive_at,
                (SELECT MIN(c.captured_at) FROM capture c WHERE c.address_id = a.id AND c.status BETWEEN 200 AND 299 AND %1$s) AS first_at,
                (SELECT MIN(c.captured_at) FROM capture c
                    WHERE c.address_id = a.id AND c.captured_at > a.last_alive_at AND c.status IN (404, 410) AND %1$s) AS gone_at
            FROM (
                SELECT a.id, a.url, LEFT(SHA2(a.url_key, 256), 32) AS key_hash,
                    IF(a.limited = 0, a.last_alive_at, (SELECT MAX(c.captured_at) FROM capture c
                        WHERE c.address_id = a.id AND c.status BETWEEN 200 AND 299 AND %1$s)) AS last_alive_at
                FROM address a WHERE a.id IN (?) AND a.last_alive_at IS NOT NULL
            ) a WHERE a.last_alive_at IS NOT NULL
            SQL;
        $rows = $this->database->fetchAllAssociative(
            \sprintf($sql, $sight->of('c.limited', 'c.code')), [$ids], [ArrayParameterType::INTEGER],
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
        $last = '' === $after ? false : $this->database->fetchOne(
            'SELECT a.url_key FROM address a WHERE a.code = ? AND '.$this->seen->condition($viewer), [$after],
        );

        return $this->rows(
            $viewer, 'a.url_key >= ? AND a.url_key < ? AND a.url_key > ?', 'a.url_key', self::PAGE,
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
            $viewer, 'a.url_key IN (?)', 'FIELD(a.url_key, ?)', self::NEAR,
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
        return $this->rows(
            $viewer, '1 = 1', 'l.at DESC, a.id DESC', $limit, from: $this->seen->latest($viewer, $limit),
        );
    }

    /**
     * @param list<string> $codes
     *
     * @return list<AddressLine> of those that are seen, by no order
     */
    public function lines(Viewer $viewer, array $codes): array
    {
        return [] === $codes ? [] : $this->rows($viewer, 'a.code IN (?)', 'a.id', \count($codes), [$codes], [ArrayParameterType::STRING]);
    }

    /**
     * @return list<AddressLine>
     */
    private function range(Viewer $viewer, string $from, string $to): array
    {
        return $this->rows($viewer, 'a.url_key >= ? AND a.url_key < ?', 'a.url_key', self::NEAR, [$from, $to]);
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
            'a.url LIKE ?',
            'l.at DESC',
            self::NEAR,
            ['%/'.addcslashes($name, '%_\\').'%'],
            from: $this->seen->latest($viewer, self::LATEST),
        );
    }

    /**
     * @param string $which condition for addresses `a`
     * @param string $order by columns of theirs, or by what is seen of them
     * @param list<mixed> $parameters
     * @param list<ArrayParameterType> $types
     * @param string $from where the addresses come from
     *
     * @return list<AddressLine>
     */
    private function rows(
        Viewer $viewer,
        string $which,
        string $order,
        int $most,
        array $parameters = [],
        array $types = [],
        string $from = 'FROM address a',
    ): array {
        $sql = \sprintf(
            'SELECT %s, a.code, a.url %s WHERE %s AND %s ORDER BY %s LIMIT %d',
            SeenAddresses::COLUMNS, $from, $which, $this->seen->condition($viewer), $order, $most,
        );
        $rows = $this->seen->rows($viewer, $this->database->fetchAllAssociative($sql, $parameters, $types));

        return $this->lines->of($viewer, array_map(static fn (array $values): Row => new Row($values), $rows));
    }

    /** A condition for addresses `a` of which a capture has the page itself. */
    private function aliveOnce(Viewer $viewer): string
    {
        $sight = $this->gate->sight($viewer);

        return 'a.last_alive_at IS NOT NULL'.($sight->isWhole() ? '' : ' AND (a.limited = 0 OR EXISTS (SELECT 1 FROM capture s'
            .' WHERE s.address_id = a.id AND s.status BETWEEN 200 AND 299 AND '.$sight->of('s.limited', 's.code').'))');
    }
}
