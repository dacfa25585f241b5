<?php

declare(strict_types=1);

namespace Ypomna\App\Custody;

use Doctrine\DBAL\Connection;
use Ypomna\App\Catalogue\Entity\WarcFile;
use Ypomna\App\Catalogue\Indexer;
use Ypomna\App\Compare\Describer;
use Ypomna\Core\Fixity\LedgerLine;

/**
 * Makes every table anew that comes from the files: the ledger says which there are, in which order and from where they came.
 * What people added, and the jobs, stay; whoever breaks it off runs it again.
 */
final readonly class Rebuild
{
    /** In the order in which their rows may go. */
    private const DERIVED = ['fingerprint', 'fingerprint_band', 'lifeline', 'record', 'capture', 'address', 'warc_file', 'ledger_line'];

    public function __construct(private Connection $database, private LedgerBook $ledger, private Store $store, private Indexer $indexer, private Describer $describer)
    {
    }

    /**
     * @param \Closure(string, ?string): void $told of each file: its path, and why it could not be entered
     *
     * @return int files that were entered
     */
    public function run(\Closure $told): int
    {
        foreach (self::DERIVED as $table) {
            $this->database->executeStatement('DELETE FROM '.$table);
        }
        $this->ledger->catchUp();
        $files = 0;
        foreach ($this->ledger->ledger()->lines() as $text) {
            $line = LedgerLine::parse($text);
            $origin = match ($line?->kind) {
                'capture.kept', 'capture.completed', 'site.kept' => WarcFile::OWN,
                'file.taken-in' => WarcFile::TAKEN_IN,
                default => null,
            };
            if (null === $line || null === $origin) {
                continue;
            }
            $problem = $this->enter($line, $origin);
            $files += null === $problem ? 1 : 0;
            $told($line->subject, $problem);
        }

        // The files have other numbers now.
        $this->database->executeStatement('UPDATE crawl_segment s JOIN warc_file f ON f.path = s.path SET s.file_id = f.id');

        return $files;
    }

    private function enter(LedgerLine $line, string $origin): ?string
    {
        $sha256 = $line->details['sha256'] ?? null;
        if (!\is_string($sha256) || !is_file($this->store->path($line->subject))) {
            return 'The ledger has this file, but it is not in the store.';
        }
        $name = $line->details['name'] ?? null;
        try {
            $report = $this->indexer->enter($line->subject, $sha256, $origin, \is_string($name) ? $name : basename($line->subject), $line->at);
        } catch (\RuntimeException $e) {
            return 'The file could not be entered: '.$e->getMessage();
        }
        $this->describer->file($report->file);

        return null;
    }
}
