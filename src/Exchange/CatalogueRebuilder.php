<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange;

use Psr\EventDispatcher\EventDispatcherInterface;
use Ypomna\App\Catalogue\CatalogueTables;
use Ypomna\App\Catalogue\CodeSource;
use Ypomna\App\Catalogue\Entity\WarcFile;
use Ypomna\App\Catalogue\Event\CatalogueRebuilt;
use Ypomna\App\Catalogue\GivenCodes;
use Ypomna\App\Catalogue\Indexer;
use Ypomna\App\Compare\Describer;
use Ypomna\App\Store\MirroredLedger;
use Ypomna\App\Store\Store;
use Ypomna\Core\Fixity\LedgerFinding;
use Ypomna\Core\Fixity\LedgerLine;

/**
 * Makes every table anew that comes from the files: the ledger says which there are, in which order and from where they came.
 * What people added, the jobs and the mirror of the ledger stay; nothing goes before ledger and files are known to be whole;
 * whoever breaks it off runs it again.
 */
final readonly class CatalogueRebuilder
{
    private const KINDS = [
        'capture.kept' => WarcFile::OWN, 'capture.completed' => WarcFile::OWN, 'site.kept' => WarcFile::OWN,
        'file.taken-in' => WarcFile::TAKEN_IN,
    ];

    public function __construct(
        private CatalogueTables $tables,
        private EventDispatcherInterface $events,
        private MirroredLedger $ledger,
        private Store $store,
        private Indexer $indexer,
        private Describer $describer,
        private GivenCodes $codes,
    ) {
    }

    /**
     * Why the catalogue that is there had better stay: what it would be made from is not whole.
     *
     * @return list<string> of the ledger; empty if it is whole
     */
    public function brokenLedger(): array
    {
        $said = array_map(
            static fn (LedgerFinding $finding): string => (0 === $finding->line ? '' : 'Line '.$finding->line.': ').$finding->message,
            $this->ledger->check(),
        );
        if ([] === $said && 0 === $this->ledger->ledger()->size() && null !== $this->store->files()->current()) {
            $said[] = 'There are files in the store, but the ledger has no line: it is lost, or this is not its data folder.';
        }

        return $said;
    }

    /**
     * @return list<string> files that the ledger has and the store lacks, or has with another size
     */
    public function missingFiles(): array
    {
        $missing = [];
        foreach ($this->ledger->ledger()->lines() as $text) {
            $line = LedgerLine::parse($text);
            if (null === $line || !isset(self::KINDS[$line->kind])) {
                continue;
            }
            $path = $this->store->local($line->subject);
            $bytes = $line->details['bytes'] ?? null;
            if (!is_file($path) || (\is_int($bytes) && filesize($path) !== $bytes)) {
                $missing[] = $line->subject;
            }
        }

        return array_values(array_unique($missing));
    }

    /**
     * @param \Closure(string, ?string): void $told of each file: its path, and why it could not be entered
     * @param bool $without whether to do it without files that are missing
     *
     * @return int files that were entered
     *
     * @throws RebuildRefused before anything was touched, if ledger or files are not whole
     */
    public function run(\Closure $told, bool $without = false): int
    {
        $broken = $this->brokenLedger();
        if ([] !== $broken) {
            throw new RebuildRefused('The ledger is not whole, and the catalogue is made from it. Nothing was touched.', $broken);
        }
        $missing = $without ? [] : $this->missingFiles();
        if ([] !== $missing) {
            throw new RebuildRefused(
                \sprintf(
                    '%d files of the ledger are not in the store as they were entered; the catalogue made anew would lack their'
                        .' captures. Nothing was touched. Put them back (is the disk mounted?), or say --without-missing.',
                    \count($missing),
                ),
                $missing,
            );
        }
        // The mirror of the ledger stays: it is what a ledger that was rewritten as a whole is told by.
        $firstCodes = $this->codes->gatherAddresses();
        $this->tables->empty();
        $files = 0;
        foreach ($this->ledger->ledger()->lines() as $text) {
            $line = LedgerLine::parse($text);
            if (null === $line || !isset(self::KINDS[$line->kind])) {
                continue;
            }
            $problem = $this->enter($line, self::KINDS[$line->kind], null === $firstCodes || $line->seq < $firstCodes);
            $files += null === $problem ? 1 : 0;
            $told($line->subject, $problem);
        }
        $this->codes->forgetAddresses();

        $this->events->dispatch(new CatalogueRebuilt());

        return $files;
    }

    /** @param bool $before whether the ledger had no codes yet when it was entered */
    private function enter(LedgerLine $line, string $origin, bool $before): ?string
    {
        $sha256 = $line->details['sha256'] ?? null;
        if (!\is_string($sha256) || !$this->store->has($line->subject)) {
            return 'The ledger has this file, but it is not in the store.';
        }
        $name = $line->details['name'] ?? null;
        try {
            $report = $this->indexer->enter(
                $line->subject,
                $sha256,
                $origin,
                \is_string($name) ? $name : basename($line->subject),
                $line->at,
                $before && [] === $this->codes->ofCaptures($line->subject) ? CodeSource::Digests : CodeSource::Ledger,
                ofWitness: 'browser' === ($line->details['witness'] ?? null),
            );
        } catch (\RuntimeException $e) {
            return 'The file could not be entered: '.$e->getMessage();
        }
        $this->describer->file($report->file);

        return null;
    }
}
