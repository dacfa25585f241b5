<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\Connection;
use Ypomna\App\Access\Gate;
use Ypomna\App\Catalogue\Value\ReadCapture;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;

/** Captures as archived pages are read from them: without the object mapper, which the many parts of a page have no time for. */
final readonly class ReadCaptures
{
    private const SELECT = <<<'SQL'
        SELECT c.code, c.url, c.captured_at, c.warc_file_id, c.response_offset, c.dom_offset, f.path
        FROM capture c
        JOIN warc_file f ON f.id = c.warc_file_id
        SQL;

    public function __construct(private Connection $database, private Gate $gate)
    {
    }

    public function byCode(Viewer $viewer, string $code): ?ReadCapture
    {
        $row = $this->database->fetchAssociative(self::SELECT.' WHERE c.code = ? AND '.$this->seen($viewer), [$code]);

        return false === $row ? null : self::read($viewer, $row);
    }

    /** The capture of an address that lies nearest to a moment. */
    public function nearest(Viewer $viewer, string $url, \DateTimeImmutable $moment): ?ReadCapture
    {
        $select = self::SELECT.' JOIN address a ON a.id = c.address_id WHERE a.url_key = ? AND '.$this->seen($viewer).' AND c.captured_at ';
        [$key, $at] = [AddressKeys::keyOf($url), MomentType::text($moment)];
        $rows = $this->database->fetchAllAssociative(
            "({$select} <= ? ORDER BY c.captured_at DESC, c.id DESC LIMIT 1)"
                ." UNION ALL ({$select} > ? ORDER BY c.captured_at, c.id LIMIT 1)",
            [$key, $at, $key, $at],
        );
        $found = array_map(static fn (array $row): ReadCapture => self::read($viewer, $row), $rows);
        $distance = static fn (ReadCapture $capture): float => abs((float) $capture->at->format('U.u') - (float) $moment->format('U.u'));
        usort($found, static fn (ReadCapture $a, ReadCapture $b): int => $distance($a) <=> $distance($b));

        return $found[0] ?? null;
    }

    /** Whether a page of its own stands at that place of a file. */
    public function isPage(int $fileId, int $offset): bool
    {
        return false !== $this->database->fetchOne(
            'SELECT 1 FROM capture WHERE warc_file_id = ? AND response_offset = ? AND redirect_to IS NULL',
            [$fileId, $offset],
        );
    }

    /**
     * @param array<string, mixed> $values
     */
    private static function read(Viewer $viewer, array $values): ReadCapture
    {
        $row = new Row($values);

        return new ReadCapture(
            $viewer, $row->text('code'), $row->text('url'), $row->moment('captured_at'), $row->int('warc_file_id'), $row->text('path'),
            $row->int('response_offset'), $row->intOrNull('dom_offset'),
        );
    }

    private function seen(Viewer $viewer): string
    {
        return $this->gate->sight($viewer)->of('c.limited', 'c.code');
    }
}
