<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\Connection;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Viewer;

/** How much is held. */
final readonly class HoldingsTotals
{
    /** More captures are not counted one by one. */
    private const MANY = 200_000;

    public function __construct(private Connection $database, private HistorySummaries $summaries)
    {
    }

    /**
     * @return array{addresses: int, captures: int, files: int, bytes: int}
     */
    public function of(Viewer $viewer): array
    {
        $last = $this->database->fetchOne('SELECT MAX(id) FROM capture');
        $last = is_numeric($last) ? (int) $last : 0;
        $count = fn (): array => $this->database->fetchAllAssociative(
            <<<'SQL'
                SELECT (SELECT COUNT(*) FROM address) AS addresses, (SELECT COUNT(*) FROM capture) AS captures,
                    COUNT(*) AS files, COALESCE(SUM(bytes), 0) AS bytes
                FROM warc_file
                SQL,
        );
        // Counting millions of rows takes long: of many they are counted anew when some hundredths were added.
        $totals = ($last <= self::MANY ? $count() : $this->summaries->remember('totals', \sprintf('%.1e', $last), $count))[0] ?? false;
        $row = new Row(false === $totals ? [] : $totals);

        return [
            'addresses' => $row->int('addresses'), 'captures' => $row->int('captures'), 'files' => $row->int('files'),
            'bytes' => $row->int('bytes'),
        ];
    }

    /** Captures of pages: those that only lead on are not counted. */
    public function pages(Viewer $viewer): int
    {
        $captures = $this->database->fetchOne('SELECT COUNT(*) FROM capture WHERE redirect_to IS NULL');

        return is_numeric($captures) ? (int) $captures : 0;
    }
}
