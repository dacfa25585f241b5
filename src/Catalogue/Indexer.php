<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Exception\RetryableException;
use Doctrine\DBAL\Exception\UniqueConstraintViolationException;
use Doctrine\ORM\EntityManagerInterface;
use Psr\EventDispatcher\EventDispatcherInterface;
use Ypomna\App\Catalogue\Entity\WarcFile;
use Ypomna\App\Catalogue\Event\FileCatalogued;
use Ypomna\App\Catalogue\Value\IndexReport;
use Ypomna\App\Catalogue\Value\Limit;
use Ypomna\App\Catalogue\Value\ScanFacts;
use Ypomna\App\Shared\SideProcess;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Store\Store;
use Ypomna\Core\Warc\WarcFinding;
use Ypomna\Core\Warc\WarcFindingCode;

/**
 * Enters a file of the store in the catalogue, wholly or not at all.
 */
final readonly class Indexer
{
    private const TRIES = 4;
    /** From here on a file is read by a process of its own, while this one and the database write down what it finds. */
    private const LARGE = 4_194_304;

    private PagesOfFile $pages;

    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $database,
        private Store $store,
        private GivenCodes $codes,
        private EventDispatcherInterface $events,
        private CaptureLimits $limits,
    ) {
        $this->pages = new PagesOfFile($database, $codes);
    }

    /**
     * @param bool $ofWitness whether somebody's own browser made it, as the ledger says
     *
     * @throws \RuntimeException if the file cannot be read or the database refuses
     */
    public function enter(
        string $path,
        string $sha256,
        string $origin,
        string $givenName,
        \DateTimeImmutable $storedAt,
        CodeSource $source = CodeSource::Random,
        ?Limit $limit = null,
        bool $ofWitness = false,
    ): IndexReport {
        // Rows that objects stand for are about to change under them.
        $this->entities->clear();
        for ($try = 1; true; ++$try) {
            // A try that was broken off may have entered codes already: they are as good as others.
            $given = $this->codes->ofCaptures($path);
            $this->database->beginTransaction();
            try {
                $this->pages->begin();
                $this->database->insert('warc_file', [
                    'path' => $path, 'sha256' => hex2bin($sha256), 'bytes' => $this->store->size($path), 'origin' => $origin,
                    'given_name' => mb_strcut($givenName, 0, 255), 'stored_at' => MomentType::text($storedAt), 'records' => 0,
                ]);
                $file = (int) $this->database->lastInsertId();
                $facts = $this->scan($this->store->local($path), $file, $source);
                $this->database->update('warc_file', ['records' => $facts->records], ['id' => $file]);
                $captures = $this->pages->enter(
                    $file, $path, $sha256, $ofWitness ? $facts->by(WarcFile::WITNESS) : $facts, $source, $given,
                );
                // Codes that were given before may be limited already.
                $this->limits->entered($file, $limit ?? Limit::none(), [] !== $given || CodeSource::Random !== $source);
                $this->events->dispatch(new FileCatalogued($file, $origin, $captures));
                $this->database->commit();
                $this->pages->end();

                return new IndexReport($file, $facts->records, $captures, $facts->findings);
            } catch (\Throwable $e) {
                if ($this->database->isTransactionActive()) {
                    $this->database->rollBack();
                }
                // Two workers may have met on the same address: a lock was lost, or both made its row.
                if ($try >= self::TRIES || !($e instanceof RetryableException || $e instanceof UniqueConstraintViolationException)) {
                    throw $e;
                }
                usleep(random_int(20_000, 120_000) * $try);
            }
        }
    }

    private function scan(string $path, int $file, CodeSource $source): ScanFacts
    {
        $run = static function (\Closure $statement) use ($path, $file, $source): ScanFacts {
            $sheets = new ScanSheets($file, $statement, $source);
            $facts = WarcScan::run($path, $sheets);
            $sheets->flush();

            return $facts;
        };
        $other = filesize($path) < self::LARGE ? null : SideProcess::start(static function (\Closure $say) use ($run): void {
            try {
                $say(serialize($run($say)));
            } catch (\Throwable $e) {
                $say('! '.$e->getMessage());
            }
        });
        if (null === $other) {
            return $run(function (string $statement): void {
                $this->database->executeStatement($statement);
            });
        }
        while (null !== ($said = $other->next())) {
            if (str_starts_with($said, 'INSERT')) {
                $this->database->executeStatement($said);
                continue;
            }
            $facts = str_starts_with($said, '! ')

                                ? throw new \RuntimeException(substr($said, 2))
                                : unserialize($said, ['allowed_classes' => [ScanFacts::class, WarcFinding::class, WarcFindingCode::class]]);
            if ($facts instanceof ScanFacts) {
                return $facts;
            }
        }
        throw new \RuntimeException('The process that read the file ended before its time.');
    }

    /** Number of the file that has that digest or that path in the store; null if the catalogue has neither. */
    public function numberOf(string $sha256, string $path): ?int
    {
        $number = $this->database->fetchOne(
            'SELECT id FROM warc_file WHERE sha256 = ? UNION SELECT id FROM warc_file WHERE path = ? LIMIT 1', [hex2bin($sha256), $path],
        );

        return is_numeric($number) ? (int) $number : null;
    }
}
