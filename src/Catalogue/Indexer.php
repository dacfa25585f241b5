<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Exception\RetryableException;
use Doctrine\DBAL\Exception\UniqueConstraintViolationException;
use Doctrine\ORM\EntityManagerInterface;
use Doctrine\Persistence\ManagerRegistry;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Entity\WarcFile;
use Ypomna\App\Catalogue\Value\IndexReport;
use Ypomna\App\Catalogue\Value\PageFound;
use Ypomna\App\Custody\Store;
use Ypomna\Core\Address\Key;
use Ypomna\Core\Address\Url;

/**
 * Enters a file of the store in the catalogue, wholly or not at all.
 */
final readonly class Indexer
{
    private const BATCH = 100;
    private const TRIES = 4;

    public function __construct(private ManagerRegistry $registry, private Store $store, private TitleReader $titles)
    {
    }

    /**
     * @throws \RuntimeException if the file cannot be read or the database refuses
     */
    public function enter(string $path, string $sha256, string $origin, string $givenName, \DateTimeImmutable $storedAt): IndexReport
    {
        for ($try = 1; true; ++$try) {
            $manager = $this->registry->getManager();
            \assert($manager instanceof EntityManagerInterface);
            $connection = $manager->getConnection();
            $connection->beginTransaction();
            try {
                $file = new WarcFile($path, $sha256, (int) filesize($this->store->path($path)), $origin, mb_strcut($givenName, 0, 255), $storedAt);
                $report = $this->index($manager, $file);
                $connection->commit();

                return $report;
            } catch (\Throwable $e) {
                if ($connection->isTransactionActive()) {
                    $connection->rollBack();
                }
                $this->registry->resetManager();
                // Two workers may have met on the same address: a lock was lost, or both made its row.
                if ($try >= self::TRIES || !($e instanceof RetryableException || $e instanceof UniqueConstraintViolationException)) {
                    throw $e;
                }
                usleep(random_int(20_000, 120_000) * $try);
            }
        }
    }

    private function index(EntityManagerInterface $manager, WarcFile $file): IndexReport
    {
        $manager->persist($file);
        $manager->flush();
        $rows = [];
        $scan = new WarcScan();
        $scan->run($this->store->path($file->path), function (array $row) use (&$rows, $manager, $file): void {
            $rows[] = [$file->id, ...array_values($row)];
            if (self::BATCH === \count($rows)) {
                $this->insert($manager->getConnection(), $rows);
                $rows = [];
            }
        });
        $this->insert($manager->getConnection(), $rows);
        $file->records = $scan->records;
        $manager->flush();
        $pages = $scan->pages();
        $proper = \count(array_filter($pages, static fn (PageFound $page): bool => null === $page->redirectTo));
        $toMeasure = [];
        foreach (array_chunk($pages, self::BATCH) as $n => $chunk) {
            if ($n > 0) {
                // What was entered is let go of: a file may hold any number of pages.
                $manager->clear();
                $file = $manager->find(WarcFile::class, $file->id) ?? throw new \RuntimeException('The file’s own row is gone.');
            }
            array_push($toMeasure, ...$this->enterPages($manager, $file, $chunk, $scan, 1 === $proper));
        }

        return new IndexReport($scan->records, $proper, $toMeasure, $scan->findings);
    }

    /**
     * @param list<PageFound> $pages
     * @param bool            $alone whether all parts of the file belong to one page
     *
     * @return list<int> numbers of those captures that have neighbours to be compared with
     */
    private function enterPages(EntityManagerInterface $manager, WarcFile $file, array $pages, WarcScan $scan, bool $alone): array
    {
        $addresses = $this->addresses($manager, $pages);
        $codes = $this->codes($manager, $pages, $file);
        $captures = [];
        foreach ($pages as $page) {
            $capture = new Capture($addresses[AddressKeys::keyOf($page->url)], $page->at, $codes[$page->recordId], mb_scrub($page->url), $file, $page->offset, $page->status);
            $capture->mime = null === $page->mime ? null : mb_strcut(mb_scrub($page->mime), 0, 100);
            $capture->payloadSha256 = $page->payloadSha256;
            $capture->redirectTo = null === $page->redirectTo ? null : mb_scrub($page->redirectTo);
            $capture->domOffset = $page->domOffset;
            $capture->textOffset = $page->textOffset;
            $whole = $alone && null === $page->redirectTo;
            $capture->parts = $whole ? max(1, $scan->answers) : 1;
            $capture->bytes = $whole ? $scan->answerBytes : 0;
            $capture->agent = $scan->agent;
            $capture->how = $scan->how;
            $capture->title = $this->titles->title($capture, $page->title);
            $capture->address->add($capture);
            $manager->persist($capture);
            $captures[] = $capture;
        }
        $manager->flush();

        return array_map(static fn (Capture $capture): int => (int) $capture->id, array_values(array_filter($captures, static fn (Capture $capture): bool => $capture->address->captures > 1)));
    }

    /**
     * @param list<PageFound> $pages
     *
     * @return array<string, Address> by key
     */
    private function addresses(EntityManagerInterface $manager, array $pages): array
    {
        $keys = array_values(array_unique(array_map(static fn (PageFound $page): string => AddressKeys::keyOf($page->url), $pages)));
        $addresses = [];
        foreach ($manager->getRepository(Address::class)->findBy(['urlKey' => $keys]) as $address) {
            $addresses[$address->urlKey] = $address;
        }
        foreach ($pages as $page) {
            $key = AddressKeys::keyOf($page->url);
            if (!isset($addresses[$key])) {
                $url = Url::tryParse($page->url);
                $addresses[$key] = new Address($key, mb_scrub(null === $url ? $page->url : Key::canonical($url)), Codes::of('address '.$key), $page->at);
                $manager->persist($addresses[$key]);
            }
        }
        // They have their numbers before captures refer to them: the capture's row is keyed by them.
        $manager->flush();

        return $addresses;
    }

    /**
     * Codes made from the records' ids; where a foreign file brings an id that is held already, from the file as well.
     *
     * @param list<PageFound> $pages
     *
     * @return array<string, string> by record id
     */
    private function codes(EntityManagerInterface $manager, array $pages, WarcFile $file): array
    {
        $codes = [];
        foreach ($pages as $page) {
            $codes[$page->recordId] = Codes::of('capture '.$page->recordId);
        }
        $taken = array_flip(array_map(static fn (mixed $code): string => \is_string($code) ? $code : '', $manager->getConnection()->fetchFirstColumn('SELECT code FROM capture WHERE code IN (?)', [array_values($codes)], [ArrayParameterType::STRING])));

        foreach ($codes as $id => $code) {
            $codes[$id] = isset($taken[$code]) ? Codes::of('capture '.$id.' in '.$file->sha256) : $code;
        }

        return $codes;
    }

    /**
     * @param list<list<mixed>> $rows
     */
    private function insert(Connection $connection, array $rows): void
    {
        if ([] === $rows) {
            return;
        }
        $places = implode(', ', array_fill(0, \count($rows), '(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)'));
        $connection->executeStatement(
            'INSERT INTO record (warc_file_id, at_offset, role, url_hash, key_hash, captured_at, method, status, mime, length, payload_sha256, url, record_id_hash, revisit) VALUES '.$places,
            array_merge(...$rows),
        );
    }

    /** Whether the catalogue has a file of that path in the store. */
    public function hasPath(string $path): bool
    {
        $connection = $this->registry->getConnection();
        \assert($connection instanceof Connection);

        return false !== $connection->fetchOne('SELECT 1 FROM warc_file WHERE path = ?', [$path]);
    }

    /**
     * @param list<string> $digests hex
     *
     * @return array<string, string> path in the store by digest, of those files that the catalogue has
     */
    public function known(array $digests): array
    {
        $connection = $this->registry->getConnection();
        \assert($connection instanceof Connection);
        $known = [];
        $binary = array_map(static fn (string $digest): string => (string) hex2bin($digest), $digests);
        foreach ($connection->fetchAllAssociative('SELECT LOWER(HEX(sha256)) AS digest, path FROM warc_file WHERE sha256 IN (?)', [$binary], [ArrayParameterType::STRING]) as $row) {
            if (\is_string($row['digest']) && \is_string($row['path'])) {
                $known[$row['digest']] = $row['path'];
            }
        }

        return $known;
    }
}
