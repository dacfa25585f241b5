<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\Connection;
use Ypomna\App\Catalogue\Value\HeldPayload;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\Core\Fetch\KnownPayload;
use Ypomna\Core\Warc\DeclaredDigest;
use Ypomna\Core\Warc\RecordHeader;

/**
 * Finds what a revisit refers to (ISO 28500:2017, clause 6.7): by the digest of its payload, by the record's id, by address
 * and date; of a “not modified” the capture of the same address before it.
 */
final readonly class Originals
{
    private const SELECT = <<<'SQL'
        SELECT f.path, r.at_offset
        FROM record r
        JOIN warc_file f ON f.id = r.warc_file_id
        WHERE r.role = 'answer' AND r.revisit = 0
        SQL;

    public function __construct(private Connection $database)
    {
    }

    /** @return HeldPayload|null null if it is not held */
    public function of(RecordHeader $revisit): ?HeldPayload
    {
        return $this->byPayload($revisit) ?? $this->byId($revisit) ?? $this->byPlace($revisit) ?? $this->before($revisit);
    }

    /** A record with that payload that everybody may see, to refer to instead of writing it again. */
    public function known(string $payloadSha256): ?KnownPayload
    {
        $row = $this->database->fetchAssociative(
            <<<'SQL'
                SELECT r.url, r.captured_at, f.path, r.at_offset
                FROM record r
                JOIN warc_file f ON f.id = r.warc_file_id
                WHERE r.payload_sha256 = ? AND r.role = 'answer' AND r.revisit = 0 AND r.limited_by IS NULL AND f.origin = 'own'
                LIMIT 1
                SQL,
            [hex2bin($payloadSha256)],
        );
        if (false === $row) {
            return null;
        }
        $row = new Row($row);

        return new KnownPayload($row->text('url'), $row->moment('captured_at'));
    }

    /**
     * Where the further pieces stand of a record that was cut into several (clause 7.2).
     *
     * @return list<HeldPayload> in their order
     */
    public function segments(string $firstId): array
    {
        $rows = $this->database->fetchAllAssociative(
            <<<'SQL'
                SELECT f.path, r.at_offset
                FROM record r
                JOIN warc_file f ON f.id = r.warc_file_id
                WHERE r.record_id_hash = ? AND r.role = 'segment'
                ORDER BY r.status
                LIMIT 10000
                SQL,
            [AddressKeys::idHash($firstId)],
        );

        return array_map(static function (array $values): HeldPayload {
            $row = new Row($values);

            return new HeldPayload($row->text('path'), $row->int('at_offset'));
        }, $rows);
    }

    private function byPayload(RecordHeader $revisit): ?HeldPayload
    {
        $digest = DeclaredDigest::parse($revisit->fields->get('WARC-Payload-Digest') ?? '');
        if ('sha256' !== $digest?->algorithm || null === $digest->bytes) {
            return null;
        }

        return $this->one(
            'r.payload_sha256 = ? ORDER BY r.url_hash = ? DESC, r.captured_at DESC',
            [$digest->bytes, hex2bin(AddressKeys::urlHash($revisit->uri() ?? ''))],
        );
    }

    private function byId(RecordHeader $revisit): ?HeldPayload
    {
        $id = $revisit->refersTo();

        return null === $id ? null : $this->one('r.record_id_hash = ?', [AddressKeys::idHash($id)]);
    }

    private function byPlace(RecordHeader $revisit): ?HeldPayload
    {
        $url = trim($revisit->fields->get('WARC-Refers-To-Target-URI') ?? '', '<>');
        $at = WarcScan::moment($revisit->fields->get('WARC-Refers-To-Date'));

        return '' === $url || null === $at
            ? null
            : $this->one('r.url_hash = ? AND r.captured_at = ?', [hex2bin(AddressKeys::urlHash($url)), MomentType::text($at)]);
    }

    private function before(RecordHeader $revisit): ?HeldPayload
    {
        $at = WarcScan::moment($revisit->date());
        if (null === $at || !str_contains($revisit->fields->get('WARC-Profile') ?? '', 'server-not-modified')) {
            return null;
        }

        return $this->one(
            'r.url_hash = ? AND r.captured_at <= ? AND r.status = 200 ORDER BY r.captured_at DESC',
            [hex2bin(AddressKeys::urlHash($revisit->uri() ?? '')), MomentType::text($at)],
        );
    }

    /**
     * @param list<mixed> $parameters
     */
    private function one(string $where, array $parameters): ?HeldPayload
    {
        $row = $this->database->fetchAssociative(self::SELECT.' AND '.$where.' LIMIT 1', $parameters);
        if (false === $row) {
            return null;
        }
        $row = new Row($row);

        return new HeldPayload($row->text('path'), $row->int('at_offset'));
    }
}
