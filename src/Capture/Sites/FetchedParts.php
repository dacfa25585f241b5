<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Sites;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Row;
use Ypomna\Core\Completeness\Gap;
use Ypomna\Core\Completeness\GapKind;
use Ypomna\Core\Completeness\GapReason;
use Ypomna\Core\Completeness\RequestedPart;

/**
 * Which parts of a site's pages were fetched, and what came of them: each is fetched once for all pages that ask for it. What a
 * style or a frame lacks in its turn is remembered with it.
 */
final class FetchedParts
{
    private const WHOLE = 'whole';
    private const MOST = 50_000;

    /** @var array<string, array{string, list<Gap>}> outcome and what it lacks itself, by hash of the address */
    private array $known = [];
    /** @var array<string, list<RequestedPart>> what parts of this group ask for, by address */
    private array $asks = [];
    /** @var array<string, string> outcomes of this group, by address */
    private array $came = [];

    public function __construct(private readonly Connection $database, private readonly int $crawl)
    {
    }

    /**
     * @param list<string> $addresses
     *
     * @return list<string> those that nobody has fetched yet
     */
    public function unknown(array $addresses): array
    {
        $hashes = [];
        foreach ($addresses as $address) {
            $hash = AddressKeys::urlHash($address);
            if (!isset($this->known[$hash]) && !isset($this->came[$address])) {
                $hashes[$hash] = $address;
            }
        }
        if ([] === $hashes) {
            return [];
        }
        if (\count($this->known) > self::MOST) {
            $this->known = [];
        }
        $rows = $this->database->fetchAllAssociative(
            'SELECT url_hash, outcome, gaps FROM crawl_part WHERE crawl_id = ? AND url_hash IN (?)',
            [$this->crawl, array_map(static fn (string|int $hash): string => (string) hex2bin((string) $hash), array_keys($hashes))],
            [1 => ArrayParameterType::BINARY],
        );
        foreach ($rows as $values) {
            $row = new Row($values);
            $hash = bin2hex($row->text('url_hash'));
            $this->known[$hash] = [$row->text('outcome'), self::gapsOf($row->textOrNull('gaps'))];
            unset($hashes[$hash]);
        }

        return array_values($hashes);
    }

    /**
     * @param list<RequestedPart> $asks what the part asks for in its turn
     */
    public function came(string $address, ?GapReason $reason, array $asks = []): void
    {
        $this->came[$address] = $reason->value ?? self::WHOLE;
        $this->asks[$address] = $asks;
    }

    /**
     * What a page lacks.
     *
     * @param list<RequestedPart> $wanted
     *
     * @return list<Gap> each address once
     */
    public function gaps(array $wanted): array
    {
        $gaps = $seen = [];
        $this->gather($wanted, $gaps, $seen);

        return array_values($gaps);
    }

    /** How many parts came since it was written down last. */
    public function count(): int
    {
        return \count($this->came);
    }

    /** Writes down what came of this group; within a transaction. */
    public function write(): void
    {
        foreach (array_chunk(array_keys($this->came), 200) as $some) {
            $values = [];
            foreach ($some as $address) {
                $gaps = $this->gaps($this->asks[$address] ?? []);
                array_push(
                    $values,
                    $this->crawl,
                    (string) hex2bin(AddressKeys::urlHash((string) $address)),
                    $this->came[$address],
                    [] === $gaps
                        ? null
                        : json_encode(
                            array_map(static fn (Gap $gap): array => [$gap->url, $gap->kind->value, $gap->reason->value], $gaps),
                            \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE,
                        ),
                );
            }
            $this->database->executeStatement(
                'INSERT INTO crawl_part (crawl_id, url_hash, outcome, gaps) VALUES '
                    .implode(', ', array_fill(0, \count($some), '(?, ?, ?, ?)'))
                    .' ON DUPLICATE KEY UPDATE outcome = VALUES(outcome), gaps = VALUES(gaps)',
                $values,
            );
        }
    }

    /** What was written down is known from now on. */
    public function commit(): void
    {
        foreach ($this->came as $address => $outcome) {
            $this->known[AddressKeys::urlHash((string) $address)] = [$outcome, $this->gaps($this->asks[$address] ?? [])];
        }
        $this->came = $this->asks = [];
    }

    /**
     * @param list<RequestedPart> $wanted
     * @param array<string, Gap> $gaps
     * @param array<string, true> $seen
     */
    private function gather(array $wanted, array &$gaps, array &$seen): void
    {
        foreach ($wanted as $one) {
            $missing = null;
            foreach ($one->any as $address) {
                [$outcome, $own] = isset($this->came[$address])
                    ? [$this->came[$address], []]
                    : $this->known[AddressKeys::urlHash($address)] ?? [GapReason::NotRequested->value, []];
                if (self::WHOLE !== $outcome) {
                    $missing ??= new Gap($address, $one->kind, GapReason::tryFrom($outcome) ?? GapReason::NotRequested);
                    continue;
                }
                $missing = false;
                foreach ($own as $gap) {
                    $gaps[$gap->url] ??= $gap;
                }
                if (isset($this->asks[$address]) && !isset($seen[$address])) {
                    $seen[$address] = true;
                    $this->gather($this->asks[$address], $gaps, $seen);
                }
            }
            if ($missing instanceof Gap && !$one->perhaps && !$one->print) {
                $gaps[$missing->url] ??= $missing;
            }
        }
    }

    /**
     * @return list<Gap>
     */
    private static function gapsOf(?string $json): array
    {
        $gaps = [];
        foreach (null === $json ? [] : (array) json_decode($json, true) as $gap) {
            if (\is_array($gap) && \is_string($gap[0] ?? null) && \is_string($gap[1] ?? null) && \is_string($gap[2] ?? null)) {
                $gaps[] = new Gap(
                    $gap[0], GapKind::tryFrom($gap[1]) ?? GapKind::Other, GapReason::tryFrom($gap[2]) ?? GapReason::NotRequested,
                );
            }
        }

        return $gaps;
    }
}
