<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\Connection;
use Ypomna\App\Access\Gate;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Viewer;

/** Which records of a file somebody may not be given, and which are given to nobody along with others. */
final readonly class SeenRecords
{
    public function __construct(private Connection $database, private Gate $gate)
    {
    }

    /**
     * Addresses in a file of which all records are withheld from somebody.
     *
     * @return array<string, true> by the hash of the address, hex
     */
    public function withheld(Viewer $viewer, int $file): array
    {
        $sight = $this->gate->sight($viewer);
        $rows = $sight->isWhole() ? [] : $this->database->fetchAllAssociative(
            <<<'SQL'
                SELECT LEFT(SHA2(SUBSTRING_INDEX(c.url, '#', 1), 256), 32) AS hash FROM capture c
                WHERE c.warc_file_id = ? AND c.limited = 1 AND NOT
                SQL.' '.$sight->reaches('c.code'),
            [$file],
        );
        $hashes = [];
        foreach ($rows as $values) {
            $hashes[(new Row($values))->text('hash')] = true;
        }

        return $hashes;
    }

    /**
     * Whether a record may go out with those of another file. What is limited to some goes with nothing, whoever asks: what is given out
     * is passed on.
     */
    public function mayGoAlong(string $path, int $offset): bool
    {
        $limited = $this->database->fetchOne(
            'SELECT r.limited_by IS NOT NULL FROM record r JOIN warc_file f ON f.id = r.warc_file_id WHERE f.path = ? AND r.at_offset = ?',
            [$path, $offset],
        );

        return 1 !== (is_numeric($limited) ? (int) $limited : 0);
    }
}
