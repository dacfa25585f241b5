<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\Connection;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Shared\AddressKeys;

/** Where the pictures of a page stand in its file. */
final readonly class PagePictures
{
    public function __construct(private Connection $database)
    {
    }

    /**
     * @return list<int> offsets of the tiles, from the top of the page on
     */
    public function offsets(Capture $capture): array
    {
        $offsets = $this->database->fetchFirstColumn(
            "SELECT at_offset FROM record WHERE warc_file_id = ? AND role = 'picture' AND url_hash = ? ORDER BY at_offset LIMIT 50",
            [$capture->warcFile->id, hex2bin(AddressKeys::urlHash($capture->url))],
        );

        return array_map(static fn (mixed $offset): int => is_numeric($offset) ? (int) $offset : 0, $offsets);
    }
}
