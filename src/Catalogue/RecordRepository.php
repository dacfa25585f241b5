<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Row;

/** Where the records of a file stand. Whoever asks has the file by a capture that they may see, or works on all holdings. */
final readonly class RecordRepository
{
    public function __construct(private Connection $database)
    {
    }

    /** @return int|null offset of an answer that a page of that file got; null if it got none */
    public function answer(int $fileId, string $url): ?int
    {
        return $this->offset("role = 'answer' AND status = 200", $fileId, $url);
    }

    /** @return int|null offset of the document as its scripts made it; null if it was not kept */
    public function rendered(int $fileId, string $url): ?int
    {
        return $this->offset("role = 'dom'", $fileId, $url);
    }

    private function offset(string $which, int $fileId, string $url): ?int
    {
        $offset = $this->database->fetchOne(
            'SELECT at_offset FROM record WHERE url_hash = ? AND warc_file_id = ? AND '.$which.' ORDER BY at_offset LIMIT 1',
            [hex2bin(AddressKeys::urlHash($url)), $fileId],
        );

        return is_numeric($offset) ? (int) $offset : null;
    }

    /**
     * @param list<string> $urls
     *
     * @return array<string, string> SHA-256 of what each address answered, hex, by address
     */
    public function digests(int $fileId, array $urls): array
    {
        if ([] === $urls) {
            return [];
        }
        $rows = $this->database->fetchAllAssociative(
            <<<'SQL'
                SELECT url, LOWER(HEX(payload_sha256)) AS digest
                FROM record
                WHERE warc_file_id = ? AND role = 'answer' AND status = 200 AND url_hash IN (?)
                SQL,
            [$fileId, array_map(static fn (string $url): string => (string) hex2bin(AddressKeys::urlHash($url)), $urls)],
            [1 => ArrayParameterType::STRING],
        );
        $digests = [];
        foreach ($rows as $values) {
            $row = new Row($values);
            $digests[$row->text('url')] = $row->textOrNull('digest') ?? '';
        }

        return array_filter($digests, static fn (string $digest): bool => '' !== $digest);
    }

    /**
     * Records of a file that refer to others for their content.
     *
     * @param int $behind offset of the one that was given last; -1 at the beginning
     *
     * @return list<int> offsets, rising
     */
    public function revisits(int $fileId, int $behind, int $most): array
    {
        return array_map(
            static fn (mixed $offset): int => is_numeric($offset) ? (int) $offset : 0,
            $this->database->fetchFirstColumn(
                'SELECT at_offset FROM record WHERE warc_file_id = ? AND revisit = 1 AND at_offset > ? ORDER BY at_offset LIMIT '
                    .max(1, $most),
                [$fileId, $behind],
            ),
        );
    }

    /**
     * The nearest records before and behind a place that the catalogue knows.
     *
     * @param int $reach how far is looked, in bytes of the file
     *
     * @return array{int|null, int|null} offsets
     */
    public function neighbours(string $path, int $offset, int $reach): array
    {
        $row = Row::of($this->database->fetchAssociative(
            <<<'SQL'
                SELECT MAX(IF(r.at_offset < ?, r.at_offset, NULL)) AS before_it, MIN(IF(r.at_offset > ?, r.at_offset, NULL)) AS behind_it
                FROM record r JOIN warc_file f ON f.id = r.warc_file_id
                WHERE f.path = ? AND r.at_offset BETWEEN ? AND ?
                SQL,
            [$offset, $offset, $path, max(0, $offset - $reach), $offset + $reach],
        ));

        return [$row->intOrNull('before_it'), $row->intOrNull('behind_it')];
    }
}
