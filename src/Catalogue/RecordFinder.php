<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Access\Gate;
use Ypomna\App\Access\Sight;
use Ypomna\App\Catalogue\Value\RecordPlace;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;

/** Finds the record that answers a request as of a capture: in its own file first, else the nearest moment elsewhere. */
final readonly class RecordFinder
{
    public const COLUMNS = 'r.warc_file_id, r.at_offset, r.captured_at, r.status, r.mime, r.method, r.url, r.length,'
        .' LOWER(HEX(r.payload_sha256)) AS payload, LOWER(HEX(r.request_sha256)) AS request_body, r.cut, f.path, f.origin';

    /** More addresses of one page are looked for one by one. */
    private const MANY = 400;

    public function __construct(private Connection $database, private Gate $gate)
    {
    }

    /** @param string|null $body SHA-256 of what was sent with the request, hex */
    public function find(
        Viewer $viewer,
        string $url,
        int $ownFileId,
        \DateTimeImmutable $moment,
        string $method = 'GET',
        ?string $body = null,
    ): ?RecordPlace {
        $exact = ['url_hash', (string) hex2bin(AddressKeys::urlHash($url))];
        $alike = ['key_hash', (string) hex2bin(AddressKeys::keyHash($url))];

        $own = $this->within($viewer, $exact, $ownFileId, $moment, $method, $body)
            ?? $this->within($viewer, $alike, $ownFileId, $moment, $method, $body);

        return self::rather(
            $own,
            null !== $own && !$own->cut
                ? null
                : $this->nearest($viewer, $exact, $moment, $method, $body) ?? $this->nearest($viewer, $alike, $moment, $method, $body),
        );
    }

    /** What broke off gives way to the same from another moment that is whole. */
    private static function rather(?RecordPlace $own, ?RecordPlace $elsewhere): ?RecordPlace
    {
        return null === $own || ($own->cut && null !== $elsewhere && !$elsewhere->cut && $elsewhere->status < 400) ? $elsewhere : $own;
    }

    /**
     * @param array{string, string} $by column and value
     */
    private function within(
        Viewer $viewer,
        array $by,
        int $fileId,
        \DateTimeImmutable $moment,
        string $method,
        ?string $body,
    ): ?RecordPlace {
        [$column, $hash] = $by;
        $rows = $this->database->fetchAllAssociative(
            'SELECT '.self::COLUMNS
                .' FROM record r JOIN warc_file f ON f.id = r.warc_file_id'
                ." WHERE r.{$column} = ? AND r.warc_file_id = ? AND r.role = 'answer' AND ".self::seen($this->gate->sight($viewer))
                .' ORDER BY r.at_offset LIMIT 50',
            [$hash, $fileId],
        );

        return self::best(array_map(RecordPlace::fromRow(...), $rows), $moment, $method, $body, true);
    }

    /**
     * @param array{string, string} $by
     */
    private function nearest(Viewer $viewer, array $by, \DateTimeImmutable $moment, string $method, ?string $body): ?RecordPlace
    {
        [$column, $hash] = $by;
        $at = MomentType::text($moment);
        $select = self::near($this->gate->sight($viewer), $column);
        $rows = $this->database->fetchAllAssociative(
            "({$select} <= ? ORDER BY r.captured_at DESC LIMIT 3) UNION ALL ({$select} > ? ORDER BY r.captured_at LIMIT 3)",
            [$hash, $at, $hash, $at],
        );

        return self::fromElsewhere(array_map(RecordPlace::fromRow(...), $rows), $moment, $method, $body);
    }

    /**
     * What answers each of many addresses of a page, found with two questions for all of them.
     *
     * @param list<string> $urls
     *
     * @return array<string, RecordPlace|null> by address
     */
    public function findAll(Viewer $viewer, array $urls, int $ownFileId, \DateTimeImmutable $moment): array
    {
        $hashes = [];
        foreach (\array_slice(array_unique($urls), 0, self::MANY) as $url) {
            $hashes[$url] = [AddressKeys::urlHash($url), AddressKeys::keyHash($url)];
        }
        if ([] === $hashes) {
            return [];
        }
        $found = $this->ownOf($viewer, $hashes, $ownFileId, $moment);

        $whole = array_filter($found, static fn (RecordPlace $place): bool => !$place->cut);
        $elsewhere = $this->nearestOf($viewer, array_diff_key($hashes, $whole), $moment);

        return $whole + array_map(
            static fn (string $url): ?RecordPlace => self::rather($found[$url] ?? null, $elsewhere[$url]),
            array_combine(array_keys($elsewhere), array_keys($elsewhere)),
        );
    }

    /**
     * @param array<string, array{string, string}> $hashes of address and key, hex, by address
     *
     * @return array<string, RecordPlace>
     */
    private function ownOf(Viewer $viewer, array $hashes, int $fileId, \DateTimeImmutable $moment): array
    {
        $exact = array_map(hex2bin(...), array_column($hashes, 0));
        $alike = array_map(hex2bin(...), array_column($hashes, 1));
        $select = 'SELECT '.self::COLUMNS
            .', LOWER(HEX(r.url_hash)) AS exact, LOWER(HEX(r.key_hash)) AS alike FROM record r JOIN warc_file f ON f.id = r.warc_file_id'
                ." WHERE r.warc_file_id = ? AND r.role = 'answer' AND ".self::seen($this->gate->sight($viewer)).' AND ';
        $rows = $this->database->fetchAllAssociative(
            "({$select} r.url_hash IN (?) ORDER BY r.at_offset LIMIT 4000)"
                ." UNION ({$select} r.key_hash IN (?) ORDER BY r.at_offset LIMIT 4000)",
            [$fileId, $exact, $fileId, $alike], [1 => ArrayParameterType::BINARY, 3 => ArrayParameterType::BINARY],
        );
        $places = ['exact' => [], 'alike' => []];
        foreach ($rows as $row) {
            foreach (['exact', 'alike'] as $way) {
                $places[$way][(new Row($row))->text($way)][] = RecordPlace::fromRow($row);
            }
        }
        $found = [];
        foreach ($hashes as $url => [$exactly, $key]) {
            $place = self::best($places['exact'][$exactly] ?? [], $moment, 'GET', null, true)
                ?? self::best($places['alike'][$key] ?? [], $moment, 'GET', null, true);
            if (null !== $place) {
                $found[$url] = $place;
            }
        }

        return $found;
    }

    /**
     * @param array<string, array{string, string}> $hashes of address and key, hex, by address
     *
     * @return array<string, RecordPlace|null>
     */
    private function nearestOf(Viewer $viewer, array $hashes, \DateTimeImmutable $moment): array
    {
        if ([] === $hashes) {
            return [];
        }
        $at = MomentType::text($moment);
        $asked = $parameters = [];
        $sight = $this->gate->sight($viewer);
        foreach (array_values($hashes) as $n => $both) {
            foreach (['url_hash', 'key_hash'] as $way => $column) {
                $select = self::near($sight, $column, (string) (2 * $n + $way));
                $asked[] = "({$select} <= ? ORDER BY r.captured_at DESC LIMIT 3) UNION ALL ({$select} > ? ORDER BY r.captured_at LIMIT 3)";
                array_push($parameters, hex2bin($both[$way]), $at, hex2bin($both[$way]), $at);
            }
        }
        $places = [];
        foreach ($this->database->fetchAllAssociative(implode(' UNION ALL ', $asked), $parameters) as $row) {
            $places[(new Row($row))->int('asked')][] = RecordPlace::fromRow($row);
        }
        $found = [];
        foreach (array_keys($hashes) as $n => $url) {
            $found[$url] = self::fromElsewhere($places[2 * $n] ?? [], $moment, 'GET', null)
                ?? self::fromElsewhere($places[2 * $n + 1] ?? [], $moment, 'GET', null);
        }

        return $found;
    }

    /** @param string $tag a number that the rows are to carry */
    private static function near(Sight $sight, string $column, string $tag = '0'): string
    {
        return 'SELECT '.self::COLUMNS
            .", {$tag} AS asked FROM record r JOIN warc_file f ON f.id = r.warc_file_id"
            ." WHERE r.{$column} = ? AND r.role = 'answer' AND ".self::seen($sight).' AND r.captured_at ';
    }

    /**
     * Records of a capture that is limited to some name it; what belongs to all captures of such a file names none, and is seen by
     * whoever sees one of them.
     */
    private static function seen(Sight $sight): string
    {
        return $sight->isWhole()
            ? '1 = 1'
            : '(r.limited_by IS NULL OR '.$sight->reaches('r.limited_by')." OR r.limited_by = '' AND EXISTS ("
            .'SELECT 1 FROM capture l WHERE l.warc_file_id = r.warc_file_id AND '.$sight->reaches('l.code').'))';
    }

    /**
     * The best of them, and beside it what was answered last before the moment and first behind it.
     *
     * @param list<RecordPlace> $places
     */
    private static function fromElsewhere(array $places, \DateTimeImmutable $moment, string $method, ?string $body): ?RecordPlace
    {
        $alike = array_values(array_filter($places, static fn (RecordPlace $place): bool => $place->method === $method));
        $around = [null, null];
        foreach ($alike as $place) {
            $side = $place->at > $moment ? 1 : 0;
            $around[$side] = null === $around[$side] || $place->distance($moment) < $around[$side]->distance($moment)
                ? $place
                : $around[$side];
        }

        return self::best($places, $moment, $method, $body)?->between(...$around);
    }

    /**
     * The answer to a request of that method before others, to what was sent before others, a good one before an error, then
     * the nearest one; among equals one's own before what was taken in.
     *
     * @param list<RecordPlace> $places
     * @param bool $one whether they are of one capture: then an address that once sent on to itself is what it came to be
     */
    public static function best(array $places, \DateTimeImmutable $moment, string $method, ?string $body, bool $one = false): ?RecordPlace
    {
        $rank = static fn (RecordPlace $place): array => [
            $place->method !== $method, null !== $body && $place->requestBody !== $body, $place->status >= 400,
            $one && $place->status >= 300 && $place->status < 400, $place->cut, $place->distance($moment), !$place->own,
        ];
        usort($places, static fn (RecordPlace $a, RecordPlace $b): int => $rank($a) <=> $rank($b));

        return $places[0] ?? null;
    }
}
