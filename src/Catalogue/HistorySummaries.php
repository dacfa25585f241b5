<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\Connection;
use Ypomna\App\Catalogue\Entity\Address;

/**
 * What the whole history of a busy address is drawn from: put together once, and again when captures were added or measured.
 * Everything in the table can be made anew.
 */
final readonly class HistorySummaries
{
    /** Histories of fewer captures are put together each time. */
    private const BUSY = 2_000;

    public function __construct(private Connection $database)
    {
    }

    /**
     * @param non-empty-list<Address> $group addresses of one history
     * @param string $what a word for what is put together
     * @param \Closure(): list<array<string, mixed>> $make
     *
     * @return list<array<string, mixed>> rows
     */
    public function rows(array $group, string $what, \Closure $make): array
    {
        $captures = array_sum(array_map(static fn (Address $one): int => $one->captures, $group));
        if ($captures <= self::BUSY) {
            return $make();
        }
        $what .= ' '.implode(' ', array_map(static fn (Address $one): string => $one->code, $group));

        // How many are limited as well: one that is no longer seen and a new one leave the number as it was.
        $limited = array_sum(array_map(static fn (Address $one): int => $one->limited, $group));
        $last = max(array_map(static fn (Address $one): string => $one->lastAt->format('U.u'), $group));

        return $this->remember($what, $captures.' '.$limited.' '.$last, $make);
    }

    /**
     * @param string $what what is put together
     * @param string $of the state that it is put together of
     * @param \Closure(): list<array<string, mixed>> $make
     *
     * @return list<array<string, mixed>> rows
     */
    public function remember(string $what, string $of, \Closure $make): array
    {
        $key = substr(hash('sha256', $what, true), 0, 16);
        $held = $this->database->fetchOne('SELECT summary FROM history_summary WHERE summary_key = ? AND of = ?', [$key, $of]);
        $rows = \is_string($held) ? json_decode($held, true) : null;
        if (\is_array($rows)) {
            /** @var list<array<string, mixed>> $rows */
            return $rows;
        }
        $rows = $make();
        $this->database->executeStatement(
            'REPLACE INTO history_summary (summary_key, of, summary) VALUES (?, ?, ?)',
            [$key, $of, json_encode($rows, \JSON_THROW_ON_ERROR)],
        );

        return $rows;
    }

    /** Changes were measured, or others may see captures than before: what was put together no longer holds. */
    public function drop(): void
    {
        $this->database->executeStatement('DELETE FROM history_summary');
    }
}
