<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange;

use Doctrine\ORM\EntityManagerInterface;
use Doctrine\Persistence\ManagerRegistry;
use Psr\Clock\ClockInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Catalogue\FileRepository;
use Ypomna\App\Catalogue\Value\HeldFile;
use Ypomna\App\Exchange\Entity\Verification;
use Ypomna\App\Exchange\Message\VerifyHoldings;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Queue\AbandonedMessage;
use Ypomna\App\Shared\Queue\ProcessorLimit;
use Ypomna\App\Store\MirroredLedger;
use Ypomna\App\Store\Store;
use Ypomna\Core\Fixity\LedgerLine;
use Ypomna\Core\Warc\DigestVerdict;
use Ypomna\Core\Warc\Inspector;
use Ypomna\Core\Warc\WarcError;
use Ypomna\Core\Warc\WarcReader;

/**
 * Recomputes the digest of every file and every record and follows the ledger's chain: whatever is not as it was is named,
 * with its place.
 */
final readonly class Verifier
{
    private const MAX_FINDINGS = 1_000;

    public function __construct(
        private ManagerRegistry $registry,
        private FileRepository $files,
        private Store $store,
        private MirroredLedger $ledger,
        private DataFolder $folder,
        private ClockInterface $clock,
        private MessageBusInterface $bus,
    ) {
    }

    #[AsMessageHandler]
    public function handle(VerifyHoldings $message): void
    {
        $verification = $this->manager()->find(Verification::class, $message->verificationId);
        if (null !== $verification && null === $verification->finishedAt) {
            $this->run($verification);
        }
    }

    #[AsEventListener]
    public function givenUp(AbandonedMessage $event): void
    {
        $id = $event->message instanceof VerifyHoldings ? $event->message->verificationId : null;
        $verification = null === $id ? null : $this->manager()->find(Verification::class, $id);
        if (null !== $verification && null === $verification->finishedAt) {
            $this->find($verification, '', AbandonedMessage::why()->kept());
            $verification->finishedAt = $this->clock->now();
            $this->manager()->flush();
        }
    }

    /** The verification that was begun last; null if there was none. */
    public function latest(): ?Verification
    {
        return $this->manager()->getRepository(Verification::class)->findOneBy([], ['id' => 'DESC']);
    }

    /** Has everything verified by a worker; while that is under way, it is not begun again. */
    public function ask(Actor $by): Verification
    {
        $latest = $this->latest();
        if (null !== $latest && null === $latest->finishedAt) {
            return $latest;
        }
        $verification = $this->begin($by);
        $this->bus->dispatch(new VerifyHoldings((int) $verification->id));

        return $verification;
    }

    public function begin(Actor $by): Verification
    {
        $verification = new Verification(Codes::random(), $by->name, $this->clock->now());
        $this->manager()->persist($verification);
        $this->manager()->flush();

        return $verification;
    }

    public function run(Verification $verification): void
    {
        $verification->findings = [];
        $verification->files = $this->files->count();
        $verification->filesDone = $verification->records = $verification->ledgerLines = 0;
        [$entered, $attached] = $this->checkLedger($verification);
        $last = 0;
        do {
            $files = $this->files->portion($last, 50);
            foreach ($files as $file) {
                $last = $file->id;
                $this->checkFile($verification, $file, $entered[$file->path] ?? null);
                unset($entered[$file->path]);
                ++$verification->filesDone;
                ProcessorLimit::again();
                $this->manager()->flush();
            }
        } while ([] !== $files);
        foreach ($this->accessions($entered) as $path => $sha256) {
            unset($entered[$path]);
            $this->checkAccession($verification, $path, $sha256);
        }
        foreach (array_keys($entered) as $path) {
            $this->find(
                $verification,
                $path,
                'The ledger has this file, the catalogue does not.'.($this->store->has($path) ? '' : ' It is not in the store either.'),
            );
        }
        $this->checkStrays($verification);
        $this->checkAttachments($verification, $attached);
        $verification->finishedAt = $this->clock->now();
        $this->manager()->flush();
    }

    private function checkFile(Verification $verification, HeldFile $held, ?string $entered): void
    {
        $path = $held->path;
        $file = $this->store->local($path);
        if (!is_file($file)) {
            $this->find($verification, $path, 'The file is missing from the store.');

            return;
        }
        $digest = (string) @hash_file('sha256', $file);
        if ($digest !== $held->sha256) {
            $this->find(
                $verification,
                $path,
                \sprintf('The file was altered: its SHA-256 is %s, but %s was entered when it was captured.', $digest, $held->sha256),
            );
        }
        if (null === $entered) {
            $this->find($verification, $path, 'The ledger has no line about this file.');
        } elseif ($entered !== $held->sha256) {
            $this->find($verification, $path, \sprintf('The ledger says %s for this file, the catalogue %s.', $entered, $held->sha256));
        }
        $this->checkRecords($verification, $path, $file, $held->records, $digest !== $held->sha256);
    }

    /**
     * @param array<string, string> $entered
     *
     * @return array<string, string> those files that are originals of others: kept, but not read as WARC
     */
    private function accessions(array $entered): array
    {
        return array_filter(
            $entered,
            static fn (string $path): bool => str_starts_with($path, 'taken-in/') && 1 !== preg_match('/\.warc(?:\.gz)?$/D', $path),
            \ARRAY_FILTER_USE_KEY,
        );
    }

    private function checkAccession(Verification $verification, string $path, string $sha256): void
    {
        ++$verification->filesDone;
        $file = $this->store->local($path);
        $digest = is_file($file) ? (string) @hash_file('sha256', $file) : null;
        if (null === $digest) {
            $this->find($verification, $path, 'The file is missing from the store.');
        } elseif ($digest !== $sha256) {
            $this->find(
                $verification,
                $path,
                \sprintf('The file was altered: its SHA-256 is %s, but %s was entered when it was imported.', $digest, $sha256),
            );
        }
    }

    private function checkRecords(Verification $verification, string $path, string $file, int $expected, bool $altered): void
    {
        $records = 0;
        try {
            $reader = WarcReader::open($file);
            foreach ($reader->records() as $record) {
                ++$records;
                if (DigestVerdict::Mismatch === Inspector::inspect($record)->digest) {
                    $this->find(
                        $verification,
                        $path.' @ '.$record->offset,
                        \sprintf(
                            'The record %s was altered: its bytes do not give the digest that it declares.',
                            $record->header->id() ?? 'without id',
                        ),
                    );
                }
            }
            // What a file that was taken in brought along was told then; here only what came since counts.
            foreach ($altered ? $reader->findings() : [] as $finding) {
                $this->find($verification, $path.' @ '.$finding->offset, $finding->message);
            }
        } catch (WarcError $e) {
            $this->find($verification, $path, $e->getMessage());
        }
        $verification->records += $records;
        if ($records !== $expected && $altered) {
            $this->find($verification, $path, \sprintf('%d records can be read, %d were entered.', $records, $expected));
        }
    }

    /**
     * @return array{array<string, string>, array<string, string>} digest by path, of every file that the ledger has, and names of what
     *     was laid beside items by digest
     */
    private function checkLedger(Verification $verification): array
    {
        $entered = $attached = [];
        $findings = $this->ledger->check(static function (int $number, ?LedgerLine $line) use (&$entered, &$attached, $verification): void {
            $verification->ledgerLines = $number;
            $sha256 = $line->details['sha256'] ?? null;
            if (null !== $line && $line->holds() && \is_string($sha256)
                && \in_array($line->kind, ['capture.kept', 'capture.completed', 'site.kept', 'file.taken-in', 'file.accession'], true)) {
                $entered[$line->subject] = $sha256;
            }
            if (null !== $line && $line->holds() && \is_string($sha256) && 'attachment.kept' === $line->kind) {
                $attached[$sha256] = $line->subject;
            }
        });
        foreach ($findings as $finding) {
            $this->find($verification, 0 === $finding->line ? 'ledger' : 'ledger line '.$finding->line, $finding->message);
        }

        return [$entered, $attached];
    }

    /** @param array<string, string> $attached codes by digest */
    private function checkAttachments(Verification $verification, array $attached): void
    {
        foreach ($attached as $sha256 => $code) {
            $file = $this->folder->attachment((string) $sha256);
            $digest = is_file($file) ? (string) @hash_file('sha256', $file) : null;
            if (null === $digest) {
                $this->find($verification, 'attachments/'.$code, 'The file is missing from the data folder.');
            } elseif ($digest !== (string) $sha256) {
                $this->find(
                    $verification, 'attachments/'.$code,
                    \sprintf('The file was altered: its SHA-256 is %s, but %s was entered when it came.', $digest, $sha256),
                );
            }
            ProcessorLimit::again();
        }
    }

    private function checkStrays(Verification $verification): void
    {
        foreach ($this->store->files() as $path) {
            if (null === $this->files->idOf($path) && null === $this->ledger->line('file.accession', $path)) {
                $this->find($verification, $path, 'The file lies in the store, but the catalogue does not know it.');
            }
        }
    }

    private function find(Verification $verification, string $where, string $what): void
    {
        if (\count($verification->findings) < self::MAX_FINDINGS) {
            $verification->findings = [...$verification->findings, ['where' => $where, 'what' => $what]];
        }
    }

    private function manager(): EntityManagerInterface
    {
        $manager = $this->registry->getManager();
        \assert($manager instanceof EntityManagerInterface);

        return $manager;
    }
}
