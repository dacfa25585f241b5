<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Doctrine\DBAL\Connection;
use Ypomna\App\Catalogue\AddressKeys;
use Ypomna\App\Catalogue\Type\MomentType;

/** Finds the record that answers a request as of a capture: in its own file first, else the nearest moment elsewhere. */
final readonly class RecordFinder
{
    public const COLUMNS = 'r.warc_file_id, r.at_offset, r.captured_at, r.status, r.mime, r.method, r.url, r.length, LOWER(HEX(r.payload_sha256)) AS payload, f.path, f.origin';

    public function __construct(private Connection $database)
    {
    }

    public function find(string $url, int $ownFileId, \DateTimeImmutable $moment, string $method = 'GET'): ?RecordPlace
    {
        $exact = ['url_hash', (string) hex2bin(AddressKeys::urlHash($url))];
        $alike = ['key_hash', (string) hex2bin(AddressKeys::keyHash($url))];

        return $this->within($exact, $ownFileId, $moment, $method) ?? $this->within($alike, $ownFileId, $moment, $method)
            ?? $this->nearest($exact, $moment, $method) ?? $this->nearest($alike, $moment, $method);
    }

    /**
     * @param array{string, string} $by column and value
     */
    private function within(array $by, int $fileId, \DateTimeImmutable $moment, string $method): ?RecordPlace
    {
        [$column, $hash] = $by;
        $rows = $this->database->fetchAllAssociative(
            'SELECT '.self::COLUMNS." FROM record r JOIN warc_file f ON f.id = r.warc_file_id WHERE r.{$column} = ? AND r.warc_file_id = ? AND r.role = 'answer' ORDER BY r.at_offset LIMIT 50",
            [$hash, $fileId],
        );

        return $this->best($rows, $moment, $method);
    }

    /**
     * @param array{string, string} $by
     */
    private function nearest(array $by, \DateTimeImmutable $moment, string $method): ?RecordPlace
    {
        [$column, $hash] = $by;
        $at = MomentType::text($moment);
        $select = 'SELECT '.self::COLUMNS." FROM record r JOIN warc_file f ON f.id = r.warc_file_id WHERE r.{$column} = ? AND r.role = 'answer' AND r.captured_at ";
        $rows = $this->database->fetchAllAssociative(
            "({$select} <= ? ORDER BY r.captured_at DESC LIMIT 3) UNION ALL ({$select} > ? ORDER BY r.captured_at LIMIT 3)",
            [$hash, $at, $hash, $at],
        );

        return $this->best($rows, $moment, $method);
    }

    /**
     * The answer to a request of that method before others, a good one before an error, then the nearest one; among equals
     * one's own before what was taken in.
     *
     * @param list<array<string, mixed>> $rows
     */
    private function best(array $rows, \DateTimeImmutable $moment, string $method): ?RecordPlace
    {
        $places = array_map(RecordPlace::fromRow(...), $rows);
        usort($places, static fn (RecordPlace $a, RecordPlace $b): int => [$a->method !== $method, $a->status >= 400, $a->distance($moment), !$a->own] <=> [$b->method !== $method, $b->status >= 400, $b->distance($moment), !$b->own]);

        return $places[0] ?? null;
    }
}
