<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Catalogue\CaptureMaintenance;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Event\CatalogueEmptied;
use Ypomna\App\Compare\Message\TakeFingerprints;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\TransactionRetry;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Compare\Fingerprint;
use Ypomna\Core\Warc\WarcError;

/** Finds captures whose texts share much, across the holdings. */
final readonly class Fingerprints
{
    private const LEAST = 0.3;
    private const MOST = 40;
    private const PORTION = 50;
    private const MOST_LOOKED_AT = 2_000;

    public function __construct(
        private Connection $database,
        private EntityManagerInterface $entities,
        private CaptureMaintenance $maintenance,
        private CaptureRepository $captures,
        private CaptureLists $lists,
        private CaptureContent $content,
        private MessageBusInterface $bus,
    ) {
    }

    public function take(int $captureId): ?Fingerprint
    {
        $held = $this->database->fetchOne('SELECT hashes FROM fingerprint WHERE capture_id = ?', [$captureId]);
        if (\is_string($held)) {
            return '' === $held ? null : Fingerprint::unpack($held);
        }
        $fingerprint = $this->read($this->maintenance->capture($captureId));
        TransactionRetry::transaction($this->database, function () use ($captureId, $fingerprint): void {
            $this->database->executeStatement(
                'INSERT IGNORE INTO fingerprint (capture_id, hashes) VALUES (?, ?)', [$captureId, $fingerprint?->pack() ?? ''],
            );
            $values = [];
            foreach ($fingerprint?->bands() ?? [] as $band => $value) {
                array_push($values, $band, $value, $captureId);
            }
            if ([] !== $values) {
                $this->database->executeStatement(
                    'INSERT IGNORE INTO fingerprint_band (band, value, capture_id) VALUES '
                        .implode(', ', array_fill(0, intdiv(\count($values), 3), '(?, ?, ?)')),
                    $values,
                );
            }
        });

        return $fingerprint;
    }

    private function read(?Capture $capture): ?Fingerprint
    {
        if (null === $capture || null !== $capture->redirectTo || !$capture->isAlive()) {
            return null;
        }
        try {
            return Fingerprint::of($this->content->document($capture)->passages);
        } catch (WarcError) {
            // What cannot be read is like nothing; a verification names it.
            return null;
        }
    }

    #[AsEventListener]
    public function onCatalogueEmptied(CatalogueEmptied $event): void
    {
        $this->database->executeStatement('DELETE FROM fingerprint');
        $this->database->executeStatement('DELETE FROM fingerprint_band');
    }

    /** How many captures have not been read for this yet; a worker reads them from now on. */
    public function missing(): int
    {
        $missing = \count($this->unread(self::MOST_LOOKED_AT));
        if ($missing > 0) {
            $this->bus->dispatch(new TakeFingerprints());
        } else {
            $this->reach($this->maintenance->last());
        }

        return $missing;
    }

    #[AsMessageHandler]
    public function takeFingerprints(TakeFingerprints $message): void
    {
        $ids = $this->unread(self::PORTION);
        foreach ($ids as $id) {
            $this->take($id);
        }
        $this->entities->clear();
        if ([] !== $ids) {
            // All before the last one of the portion have theirs.
            $this->reach(max($ids));
        }
        if (self::PORTION === \count($ids)) {
            $this->bus->dispatch(new TakeFingerprints());
        }
    }

    private function reach(int $behind): void
    {
        $sql = 'UPDATE fingerprint_reach SET behind = GREATEST(behind, ?) WHERE id = 1';
        TransactionRetry::transaction($this->database, fn () => $this->database->executeStatement($sql, [$behind]));
    }

    /**
     * @return list<int> numbers of captures that have none yet, rising
     */
    private function unread(int $most): array
    {
        $behind = $this->database->fetchOne('SELECT behind FROM fingerprint_reach WHERE id = 1');
        $last = is_numeric($behind) ? (int) $behind : 0;
        $unread = [];
        do {
            $ids = $this->maintenance->behind($last, self::MOST_LOOKED_AT);
            $read = [] === $ids
                ? []
                : $this->database->fetchFirstColumn(
                    'SELECT capture_id FROM fingerprint WHERE capture_id IN (?)', [$ids], [ArrayParameterType::INTEGER],
                );
            $read = array_fill_keys(array_filter($read, is_int(...)), true);
            foreach ($ids as $id) {
                $last = $id;
                if (!isset($read[$id])) {
                    $unread[] = $id;
                }
            }
        } while ([] !== $ids && \count($unread) < $most);

        return \array_slice($unread, 0, $most);
    }

    /**
     * Captures of other addresses that share much of its text, of each address the one that is most alike.
     *
     * @return list<array{Capture, float}> the most alike first
     */
    public function like(Viewer $viewer, Capture $capture): array
    {
        $fingerprint = $this->take((int) $capture->id);
        if (null === $fingerprint) {
            return [];
        }
        $questions = $values = [];
        foreach ($fingerprint->bands() as $band => $value) {
            $questions[] = '(SELECT capture_id FROM fingerprint_band WHERE band = ? AND value = ? LIMIT '.self::MOST_LOOKED_AT.')';
            array_push($values, $band, $value);
        }
        $ids = \array_slice($this->database->fetchFirstColumn(implode(' UNION ', $questions), $values), 0, self::MOST_LOOKED_AT);
        $best = [];
        $addresses = $this->lists->addresses($viewer, array_map(static fn (mixed $id): int => is_numeric($id) ? (int) $id : 0, $ids));
        $others = array_keys(array_filter($addresses, static fn (int $address): bool => $address !== $capture->address->id));
        foreach ($this->ofCaptures($others) as $id => $other) {
            $likeness = $fingerprint->likeness($other);
            if ($likeness >= self::LEAST && $likeness > ($best[$addresses[$id]][1] ?? 0.0)) {
                $best[$addresses[$id]] = [$id, $likeness];
            }
        }
        usort($best, static fn (array $a, array $b): int => $b[1] <=> $a[1]);
        $best = \array_slice($best, 0, self::MOST);
        $captures = $this->captures->byIds($viewer, array_column($best, 0));

        return array_values(array_filter(
            array_map(static fn (array $one): ?array => isset($captures[$one[0]]) ? [$captures[$one[0]], $one[1]] : null, $best),
            static fn (?array $one): bool => null !== $one,
        ));
    }

    /**
     * @param list<int> $ids
     *
     * @return array<int, Fingerprint> by number of the capture, of those that have one
     */
    public function ofCaptures(array $ids): array
    {
        $fingerprints = [];
        foreach (array_chunk($ids, self::MOST_LOOKED_AT) as $some) {
            $rows = $this->database->fetchAllAssociative(
                "SELECT capture_id, hashes FROM fingerprint WHERE capture_id IN (?) AND hashes <> ''",
                [$some],
                [ArrayParameterType::INTEGER],
            );
            foreach ($rows as $values) {
                $row = new Row($values);
                $fingerprints[$row->int('capture_id')] = Fingerprint::unpack($row->text('hashes'));
            }
        }

        return $fingerprints;
    }
}
