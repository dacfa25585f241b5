<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Catalogue\AddressKeys;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Row;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Picture;

/** Digests of the picture files that were kept with a capture, so that other bytes at the same address are noticed. */
final readonly class PictureDigests
{
    private const MAX = 500;

    public function __construct(private Connection $database)
    {
    }

    /**
     * @return array<string, string> hex, by address
     */
    public function of(Capture $capture, Document $document): array
    {
        $sources = \array_slice(array_unique(array_map(static fn (Picture $picture): string => $picture->src, $document->pictures)), 0, self::MAX);
        if ([] === $sources) {
            return [];
        }
        $hashes = array_map(static fn (string $src): string => (string) hex2bin(AddressKeys::urlHash($src)), $sources);
        $rows = $this->database->fetchAllAssociative(
            "SELECT url, LOWER(HEX(payload_sha256)) AS digest FROM record WHERE warc_file_id = ? AND role = 'answer' AND status = 200 AND url_hash IN (?)",
            [$capture->warcFile->id, $hashes],
            [1 => ArrayParameterType::STRING],
        );
        $digests = [];
        foreach ($rows as $values) {
            $row = new Row($values);
            $digests[$row->text('url')] = $row->textOrNull('digest') ?? '';
        }

        return array_filter($digests, static fn (string $digest): bool => '' !== $digest);
    }
}
