<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Doctrine\DBAL\Connection;
use Ypomna\App\Catalogue\AddressKeys;
use Ypomna\App\Catalogue\Type\MomentType;

/** Finds the record that answers a request as of a capture: in its own file first, else the nearest moment elsewhere. */
final readonly class RecordFinder
{
    public const COLUMNS = 'r.warc_file_id, r.at_offset, r.captured_at, r.status, r.mime, r.method, r.url, r.length, LOWER(HEX(r.payload_sha256)) AS payload, LOWER(HEX(r.request_sha256)) AS request_body, f.path, f.origin';

    public function __construct(private Connection $database)
    {
    }

    /** @param string|null $body SHA-256 of what was sent with the request, hex */
    public function find(string $url, int $ownFileId, \DateTimeImmutable $moment, string $method = 'GET', ?string $body = null): ?RecordPlace
    {
        $exact = ['url_hash', (string) hex2bin(AddressKeys::urlHash($url))];
        $alike = ['key_hash', (string) hex2bin(AddressKeys::keyHash($url))];

        return $this->within($exact, $ownFileId, $moment, $method, $body) ?? $this->within($alike, $ownFileId, $moment, $method, $body)
            ?? $this->nearest($exact, $moment, $method, $body) ?? $this->nearest($alike, $moment, $method, $body);
    }

    /**
     * @param array{string, string} $by column and value
     */
    private function within(array $by, int $fileId, \DateTimeImmutable $moment, string $method, ?string $body): ?RecordPlace
    {
        [$column, $hash] = $by;
        $rows = $this->database->fetchAllAssociative(
            'SELECT '.self::COLUMNS." FROM record r JOIN warc_file f ON f.id = r.warc_file_id WHERE r.{$column} = ? AND r.warc_file_id = ? AND r.role = 'answer' ORDER BY r.at_offset LIMIT 50",
            [$hash, $fileId],
        );

        return self::best(array_map(RecordPlace::fromRow(...), $rows), $moment, $method, $body);
    }

    /**
     * @param array{string, string} $by
     */
    private function nearest(array $by, \DateTimeImmutable $moment, string $method, ?string $body): ?RecordPlace
    {
        [$column, $hash] = $by;
        $at = MomentType::text($moment);
        $select = 'SELECT '.self::COLUMNS." FROM record r JOIN warc_file f ON f.id = r.warc_file_id WHERE r.{$column} = ? AND r.role = 'answer' AND r.captured_at ";
        $rows = $this->database->fetchAllAssociative(
            "({$select} <= ? ORDER BY r.captured_at DESC LIMIT 3) UNION ALL ({$select} > ? ORDER BY r.captured_at LIMIT 3)",
            [$hash, $at, $hash, $at],
        );

        return self::best(array_map(RecordPlace::fromRow(...), $rows), $moment, $method, $body);
    }

    /**
     * The answer to a request of that method before others, to what was sent before others, a good one before an error, then
     * the nearest one; among equals one's own before what was taken in.
     *
     * @param list<RecordPlace> $places
     */
    public static function best(array $places, \DateTimeImmutable $moment, string $method, ?string $body): ?RecordPlace
    {
        $rank = static fn (RecordPlace $place): array => [$place->method !== $method, null !== $body && $place->requestBody !== $body, $place->status >= 400, $place->distance($moment), !$place->own];
        usort($places, static fn (RecordPlace $a, RecordPlace $b): int => $rank($a) <=> $rank($b));

        return $places[0] ?? null;
    }
}
