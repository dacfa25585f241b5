<?php

declare(strict_types=1);

namespace Ypomna\App\Store;

use Doctrine\DBAL\Connection;
use Ypomna\Core\Fixity\LedgerLine;

/** The ledger as the database has it: for look-ups while pages are read, where nothing is ever entered. */
final readonly class LedgerMirror
{
    public function __construct(private Connection $database)
    {
    }

    /** The first line of that kind about the subject. */
    public function line(string $kind, string $subject): ?LedgerLine
    {
        $text = $this->database->fetchOne(
            'SELECT line FROM ledger_line WHERE subject = ? AND kind = ? ORDER BY seq LIMIT 1', [$subject, $kind],
        );

        return \is_string($text) ? LedgerLine::parse($text) : null;
    }

    /**
     * The lines that were entered last.
     *
     * @return list<LedgerLine> the newest first
     */
    public function latest(int $most): array
    {
        $lines = [];
        foreach ($this->database->fetchFirstColumn('SELECT line FROM ledger_line ORDER BY seq DESC LIMIT '.max(1, $most)) as $text) {
            $line = \is_string($text) ? LedgerLine::parse($text) : null;
            if (null !== $line) {
                $lines[] = $line;
            }
        }

        return $lines;
    }
}
