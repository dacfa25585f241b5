<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Value\PageToDescribe;
use Ypomna\App\Shared\Row;

/** For the workers that read captures one after the other, and write down what they find: what it gives is shown to nobody. */
final readonly class CaptureMaintenance
{
    /** Captures from which on a history teaches what is noise, and up to which it is drawn unasked. */
    private const TEACHES = 5;
    private const TOO_MANY = 300;

    public function __construct(private Connection $database, private EntityManagerInterface $entities)
    {
    }

    public function capture(int $id): ?Capture
    {
        return $this->entities->find(Capture::class, $id);
    }

    public function address(int $id): ?Address
    {
        return $this->entities->find(Address::class, $id);
    }

    /**
     * @param list<int> $addresses
     *
     * @return array<int, string> how they are written, by number
     */
    public function urls(array $addresses): array
    {
        $urls = [];
        foreach ([] === $addresses ? [] : $this->database->fetchAllAssociative(
            'SELECT id, url FROM address WHERE id IN (?)', [$addresses], [ArrayParameterType::INTEGER],
        ) as $values) {
            $row = new Row($values);
            $urls[$row->int('id')] = $row->text('url');
        }

        return $urls;
    }

    /** The page that a file with one page is about; null if there is none in it. It comes after the redirects that led to it. */
    public function pageOf(int $file): ?Capture
    {
        $captures = $this->entities->getRepository(Capture::class);

        return $captures->findOneBy(['warcFile' => $file, 'redirectTo' => null], ['responseOffset' => 'DESC'])
            ?? $captures->findOneBy(['warcFile' => $file], ['responseOffset' => 'DESC']);
    }

    /**
     * The pages of a file, without redirects.
     *
     * @return list<string> codes, in the order of the file
     */
    public function pagesOf(int $file, int $most): array
    {
        return array_values(array_filter($this->database->fetchFirstColumn(
            'SELECT code FROM capture WHERE warc_file_id = ? AND redirect_to IS NULL ORDER BY response_offset LIMIT '.max(1, $most),
            [$file],
        ), \is_string(...)));
    }

    /**
     * The captures of the same address right before and right behind one.
     *
     * @return array{Capture|null, Capture|null}
     */
    public function around(Capture $capture): array
    {
        return [$this->neighbour($capture, '<', 'DESC'), $this->neighbour($capture, '>', 'ASC')];
    }

    private function neighbour(Capture $capture, string $direction, string $order): ?Capture
    {
        $dql = <<<'DQL'
            SELECT c, f FROM %1$s c JOIN c.warcFile f
            WHERE c.address = :address AND c.limited <= :limited AND (c.capturedAt %2$s :at OR (c.capturedAt = :at AND c.id %2$s :id))
            ORDER BY c.capturedAt %3$s, c.id %3$s
            DQL;
        $query = $this->entities->createQuery(\sprintf($dql, Capture::class, $direction, $order))
            ->setParameter('address', $capture->address)
            // What everybody sees is measured against what everybody sees.
            ->setParameter('limited', $capture->limited)->setParameter('at', $capture->capturedAt, 'moment')
                ->setParameter('id', $capture->id);
        $found = $query->setMaxResults(1)->getOneOrNullResult();

        return $found instanceof Capture ? $found : null;
    }

    /** Whether that file has no more captures than that. */
    public function hasAtMost(int $file, int $captures): bool
    {
        return \count($this->database->fetchFirstColumn(
            'SELECT 1 FROM capture WHERE warc_file_id = ? LIMIT '.($captures + 1), [$file],
        )) <= $captures;
    }

    /**
     * The pages of a file, with what is not known of them yet.
     *
     * @param int $behind offset of the page that was given last; -1 at the beginning
     *
     * @return list<PageToDescribe>
     */
    public function toDescribe(int $file, int $behind, int $most): array
    {
        $sql = <<<'SQL'
            SELECT c.id, c.response_offset, c.address_id, c.title IS NULL AS untitled, a.captures > 1 AND c.changed IS NULL AS unmeasured,
                c.captured_at = a.last_at AND a.captures BETWEEN %d AND %d AS newest
            FROM capture c JOIN address a ON a.id = c.address_id
            WHERE c.warc_file_id = ? AND c.response_offset > ? ORDER BY c.response_offset LIMIT %d
            SQL;

        return array_map(
            PageToDescribe::fromRow(...),
            $this->database->fetchAllAssociative(\sprintf($sql, self::TEACHES, self::TOO_MANY, $most), [$file, $behind]),
        );
    }

    public function title(int $capture, string $title): void
    {
        $this->database->update('capture', ['title' => $title], ['id' => $capture]);
    }

    /** @param float|null $share of the text that differs from the capture before; null where there is none, or one cannot be read */
    public function changed(int $capture, ?float $share): void
    {
        $this->database->update('capture', ['changed' => $share], ['id' => $capture]);
    }

    /**
     * Addresses by number, and whether only some may see a capture of theirs.
     *
     * @param list<int> $ids
     *
     * @return list<array{url: string, key: string, key_hash: string, confidential: bool}> the hash of the key in hex
     */
    public function addresses(array $ids): array
    {
        return array_map(static function (array $values): array {
            $row = new Row($values);

            return [
                'url' => $row->text('url'), 'key' => $row->text('url_key'), 'key_hash' => $row->text('key_hash'),
                'confidential' => 1 === $row->int('confidential'),
            ];
        }, [] === $ids ? [] : $this->database->fetchAllAssociative(
            <<<'SQL'
                SELECT url, url_key, LEFT(SHA2(url_key, 256), 32) AS key_hash, limited > 0 AND open_last_at IS NULL AS confidential
                FROM address WHERE id IN (?)
                SQL,
            [$ids],
            [ArrayParameterType::INTEGER],
        ));
    }

    /**
     * Where the answers of captures stand.
     *
     * @param list<string> $codes
     *
     * @return list<array{int, int}> number of the file and offset
     */
    public function places(array $codes): array
    {
        $places = [];
        foreach (array_chunk($codes, 500) as $some) {
            foreach ($this->database->fetchAllAssociative(
                'SELECT warc_file_id, response_offset FROM capture WHERE code IN (?)', [$some], [ArrayParameterType::STRING],
            ) as $values) {
                $row = new Row($values);
                $places[] = [$row->int('warc_file_id'), $row->int('response_offset')];
            }
        }

        return $places;
    }

    /** Whether it is for some only, within a transaction: nobody says otherwise before that ends. */
    public function isLimitedNow(int $capture): bool
    {
        return \in_array(
            $this->database->fetchOne('SELECT limited FROM capture WHERE id = ? LOCK IN SHARE MODE', [$capture]), [1, '1', true], true,
        );
    }

    /** Number of the newest capture; 0 if there is none. */
    public function last(): int
    {
        $last = $this->database->fetchOne('SELECT MAX(id) FROM capture');

        return is_numeric($last) ? (int) $last : 0;
    }

    /** Whether no capture of its address came in before it. */
    public function isFirst(int $capture): bool
    {
        return false === $this->database->fetchOne(
            'SELECT 1 FROM capture c JOIN capture o ON o.address_id = c.address_id AND o.id < c.id WHERE c.id = ? LIMIT 1', [$capture],
        );
    }

    /** @return list<int> numbers of captures behind that one, rising */
    public function behind(int $capture, int $most): array
    {
        return self::numbers($this->database->fetchFirstColumn(
            'SELECT id FROM capture WHERE id > ? ORDER BY id LIMIT '.max(1, $most), [$capture],
        ));
    }

    /**
     * Captures of an address, or of all addresses whose keys begin so, that were measured.
     *
     * @param string $place a key, or the beginning of keys
     *
     * @return list<int> numbers behind that one, rising
     */
    public function measured(string $place, bool $isAddress, int $behind, int $most): array
    {
        return self::numbers($this->database->fetchFirstColumn(
            'SELECT c.id FROM address a JOIN capture c ON c.address_id = a.id WHERE '
                .($isAddress ? 'a.url_key = ?' : 'a.url_key >= ? AND a.url_key < ?')
            .' AND c.id > ? AND c.changed IS NOT NULL ORDER BY c.id LIMIT '.max(1, $most),
            [...($isAddress ? [$place] : [$place, $place."\xFF"]), $behind],
        ));
    }

    /**
     * Captures that have the page itself, of addresses that share one history; without those that are limited to some.
     *
     * @param list<int> $addresses
     *
     * @return list<int> numbers of the newest of them, the oldest of those first
     */
    public function alive(array $addresses, int $most): array
    {
        $sql = <<<'SQL'
            SELECT id FROM (
                SELECT id, captured_at FROM capture
                WHERE address_id IN (?) AND status BETWEEN 200 AND 299 AND limited = 0 ORDER BY captured_at DESC, id DESC LIMIT %d
            ) c ORDER BY captured_at, id
            SQL;

        return self::numbers($this->database->fetchFirstColumn(\sprintf($sql, $most), [$addresses], [ArrayParameterType::INTEGER]));
    }

    /**
     * @param list<mixed> $values
     *
     * @return list<int>
     */
    private static function numbers(array $values): array
    {
        return array_map(static fn (mixed $value): int => is_numeric($value) ? (int) $value : 0, $values);
    }
}
