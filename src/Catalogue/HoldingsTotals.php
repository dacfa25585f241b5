<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\Connection;
use Ypomna\App\Access\Gate;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Viewer;

/** How much is held. */
final readonly class HoldingsTotals
{
    /** More captures are not counted one by one. */
    private const MANY = 200_000;

    public function __construct(
        private Connection $database,
        private HistorySummaries $summaries,
        private SeenAddresses $seen,
        private Gate $gate,
    ) {
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

        $unseen = $this->unseen($viewer);

        return [
            'addresses' => $row->int('addresses') - $unseen->int('addresses'),
            'captures' => $row->int('captures') - $unseen->int('captures'),
            'files' => $row->int('files') - $unseen->int('files'), 'bytes' => $row->int('bytes') - $unseen->int('bytes'),
        ];
    }

    /** Captures of pages: those that only lead on are not counted. */
    public function pages(Viewer $viewer): int
    {
        $captures = $this->database->fetchOne(
            'SELECT COUNT(*) FROM capture c WHERE c.redirect_to IS NULL AND '.$this->gate->sight($viewer)->of('c.limited', 'c.code'),
        );

        return is_numeric($captures) ? (int) $captures : 0;
    }

    /** What of all this somebody may not see: hardly anything is limited to some, so it is counted by itself. */
    private function unseen(Viewer $viewer): Row
    {
        $sight = $this->gate->sight($viewer);
        if ($sight->isWhole()) {
            return new Row(['addresses' => 0, 'captures' => 0, 'files' => 0, 'bytes' => 0]);
        }
        $sql = <<<'SQL'
            SELECT
                (SELECT COUNT(*) FROM address a WHERE a.limited > 0 AND NOT %1$s) AS addresses,
                (SELECT COUNT(*) FROM address a JOIN capture c ON c.address_id = a.id
                    WHERE a.limited > 0 AND c.limited = 1 AND NOT %2$s) AS captures,
                COUNT(*) AS files, COALESCE(SUM(f.bytes), 0) AS bytes
            FROM warc_file f
            WHERE f.limited = 1 AND NOT EXISTS (SELECT 1 FROM capture c WHERE c.warc_file_id = f.id AND %2$s)
            SQL;

        return Row::of($this->database->fetchAssociative(
            \sprintf($sql, $this->seen->condition($viewer), $sight->reaches('c.code')),
        ));
    }
}
