<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\Connection;
use Ypomna\App\Access\Gate;
use Ypomna\App\Access\Grants;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Viewer;

/** How much is held. */
final readonly class HoldingsTotals
{
    /** More captures are not counted one by one. */
    private const MANY = 200_000;
    /** So many things that were granted to somebody are counted each time. */
    private const FEW = 500;

    public function __construct(
        private Connection $database,
        private HistorySummaries $summaries,
        private Gate $gate,
        private Grants $grants,
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
                    COUNT(*) AS files, COALESCE(SUM(bytes), 0) AS bytes,
                    (SELECT COUNT(*) FROM address WHERE limited > 0 AND open_last_at IS NULL) AS limited_addresses,
                    (SELECT COALESCE(SUM(limited), 0) FROM address WHERE limited > 0) AS limited_captures,
                    COALESCE(SUM(limited), 0) AS limited_files, COALESCE(SUM(IF(limited = 1, bytes, 0)), 0) AS limited_bytes
                FROM warc_file
                SQL,
        );
        // Counting millions of rows takes long: of many they are counted anew when some hundredths were added. What is limited to some is
        // counted in the same breath: so no number that others see falls between the two counts.
        $rows = $last <= self::MANY ? $count() : $this->summaries->remember('totals with limits', \sprintf('%.1e', $last), $count);
        $row = new Row($rows[0] ?? []);

        $unseen = $this->unseen($viewer, $row);
        $seen = static fn (string $what): int => $row->int($what) - $unseen[$what];

        return [
            'addresses' => $seen('addresses'), 'captures' => $seen('captures'), 'files' => $seen('files'), 'bytes' => $seen('bytes'),
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

    /**
     * What of all this somebody may not see: what is limited to some, but for what was granted to them.
     *
     * @return array{addresses: int, captures: int, files: int, bytes: int}
     */
    private function unseen(Viewer $viewer, Row $totals): array
    {
        $sight = $this->gate->sight($viewer);
        $granted = $sight->isWhole() || $sight->isOpenOnly() ? null : $this->granted($viewer, $totals->intOrNull('limited_captures') ?? 0);
        $left = static fn (string $what): int => $sight->isWhole()
            ? 0 : max(0, ($totals->intOrNull('limited_'.$what) ?? 0) - ($granted?->intOrNull($what) ?? 0));

        return ['addresses' => $left('addresses'), 'captures' => $left('captures'), 'files' => $left('files'), 'bytes' => $left('bytes')];
    }

    /** What of what is limited to some was granted to somebody. */
    private function granted(Viewer $viewer, int $limited): Row
    {
        $things = $this->gate->sight($viewer)->things();
        $count = fn (): array => $this->database->fetchAllAssociative(\sprintf(
            <<<'SQL'
                SELECT
                    (SELECT COUNT(DISTINCT c.address_id) FROM (%1$s) t JOIN capture c ON c.code = t.thing
                        JOIN address a ON a.id = c.address_id WHERE c.limited = 1 AND a.open_last_at IS NULL) AS addresses,
                    (SELECT COUNT(*) FROM (%1$s) t JOIN capture c ON c.code = t.thing WHERE c.limited = 1) AS captures,
                    COUNT(*) AS files, COALESCE(SUM(f.bytes), 0) AS bytes
                FROM warc_file f
                WHERE f.limited = 1 AND f.id IN (SELECT c.warc_file_id FROM (%1$s) t JOIN capture c ON c.code = t.thing)
                SQL,
            $things,
        ));
        $number = $this->grants->number((string) $viewer->name);
        // Of many they are counted anew when one was added or taken away.
        $rows = $number <= self::FEW ? $count() : $this->summaries->remember('granted '.$viewer->name, $number.' '.$limited, $count);

        return new Row($rows[0] ?? []);
    }
}
