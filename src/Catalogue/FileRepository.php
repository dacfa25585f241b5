<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Catalogue\Entity\WarcFile;
use Ypomna\App\Catalogue\Value\HeldFile;
use Ypomna\App\Shared\Row;

/** The WARC files of the store, as the catalogue knows them. For work on all holdings: what it gives is shown to nobody as it is. */
final readonly class FileRepository
{
    private const AT_ONCE = 500;
    private const FIELDS = 'id, path, LOWER(HEX(sha256)) AS digest, bytes, records';

    public function __construct(private Connection $database)
    {
    }

    /**
     * @param int $behind number of the file that was given last; 0 at the beginning
     * @param string|null $origin a constant of {@see WarcFile}; null for files of any
     *
     * @return list<HeldFile> in the order of their numbers
     */
    public function portion(int $behind, int $most, ?string $origin = null): array
    {
        return array_map(HeldFile::fromRow(...), $this->database->fetchAllAssociative(
            'SELECT '.self::FIELDS.' FROM warc_file WHERE id > ?'.(null === $origin ? '' : ' AND origin = ?').' ORDER BY id LIMIT '
                .max(1, $most),
            null === $origin ? [$behind] : [$behind, $origin],
        ));
    }

    public function count(): int
    {
        $count = $this->database->fetchOne('SELECT COUNT(*) FROM warc_file');

        return is_numeric($count) ? (int) $count : 0;
    }

    /** @return int|null its number; null if the catalogue does not know it */
    public function idOf(string $path): ?int
    {
        return $this->idsOf([$path])[$path] ?? null;
    }

    /**
     * @param list<string> $paths
     *
     * @return array<string, int> numbers by path, of those that the catalogue knows
     */
    public function idsOf(array $paths): array
    {
        $ids = [];
        foreach (array_chunk($paths, self::AT_ONCE) as $some) {
            $rows = $this->database->fetchAllAssociative(
                'SELECT id, path FROM warc_file WHERE path IN (?)', [$some], [ArrayParameterType::STRING],
            );
            foreach ($rows as $values) {
                $row = new Row($values);
                $ids[$row->text('path')] = $row->int('id');
            }
        }

        return $ids;
    }

    /**
     * @param list<int> $ids
     *
     * @return array<int, HeldFile> by number
     */
    public function byIds(array $ids): array
    {
        $files = [];
        foreach (array_chunk($ids, self::AT_ONCE) as $some) {
            $rows = $this->database->fetchAllAssociative(
                'SELECT '.self::FIELDS.' FROM warc_file WHERE id IN (?)', [$some], [ArrayParameterType::INTEGER],
            );
            foreach ($rows as $values) {
                $file = HeldFile::fromRow($values);
                $files[$file->id] = $file;
            }
        }

        return $files;
    }
}
