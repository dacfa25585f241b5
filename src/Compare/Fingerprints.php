<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Compare\Message\TakeFingerprints;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\TransactionRetry;
use Ypomna\Core\Compare\Fingerprint;
use Ypomna\Core\Warc\WarcError;

/** Finds captures whose texts share much, across the holdings. */
final readonly class Fingerprints
{
    private const LEAST = 0.3;
    private const MOST = 40;
    private const PORTION = 50;
    private const MOST_LOOKED_AT = 2_000;

    public function __construct(private Connection $database, private EntityManagerInterface $entities, private CaptureContent $content, private MessageBusInterface $bus)
    {
    }

    public function take(int $captureId): ?Fingerprint
    {
        $held = $this->database->fetchOne('SELECT hashes FROM fingerprint WHERE capture_id = ?', [$captureId]);
        if (\is_string($held)) {
            return '' === $held ? null : Fingerprint::unpack($held);
        }
        $fingerprint = $this->read($this->entities->find(Capture::class, $captureId));
        TransactionRetry::transaction($this->database, function () use ($captureId, $fingerprint): void {
            $this->database->executeStatement('INSERT IGNORE INTO fingerprint (capture_id, hashes) VALUES (?, ?)', [$captureId, $fingerprint?->pack() ?? '']);
            $values = [];
            foreach ($fingerprint?->bands() ?? [] as $band => $value) {
                array_push($values, $band, $value, $captureId);
            }
            if ([] !== $values) {
                $this->database->executeStatement('INSERT IGNORE INTO fingerprint_band (band, value, capture_id) VALUES '.implode(', ', array_fill(0, intdiv(\count($values), 3), '(?, ?, ?)')), $values);
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

    /** How many captures have not been read for this yet; a worker reads them from now on. */
    public function missing(): int
    {
        $missing = \count($this->unread(self::MOST_LOOKED_AT));
        if ($missing > 0) {
            $this->bus->dispatch(new TakeFingerprints());
        } else {
            $this->reach('SELECT COALESCE(MAX(id), 0) FROM capture', []);
        }

        return $missing;
    }

    #[AsMessageHandler]
    public function go(TakeFingerprints $message): void
    {
        $ids = $this->unread(self::PORTION);
        foreach ($ids as $id) {
            $this->take($id);
        }
        $this->entities->clear();
        if ([] !== $ids) {
            // All before the last one of the portion have theirs.
            $this->reach('?', [max($ids)]);
        }
        if (self::PORTION === \count($ids)) {
            $this->bus->dispatch(new TakeFingerprints());
        }
    }

    /** @param list<int> $values */
    private function reach(string $to, array $values): void
    {
        TransactionRetry::transaction($this->database, fn () => $this->database->executeStatement("UPDATE fingerprint_reach SET behind = GREATEST(behind, ({$to})) WHERE id = 1", $values));
    }

    /**
     * @return list<int>
     */
    private function unread(int $most): array
    {
        $rows = $this->database->fetchAllAssociative('SELECT c.id FROM capture c LEFT JOIN fingerprint f ON f.capture_id = c.id WHERE c.id > (SELECT behind FROM fingerprint_reach WHERE id = 1) AND f.capture_id IS NULL ORDER BY c.id LIMIT '.$most);

        return array_map(static fn (array $values): int => (new Row($values))->int('id'), $rows);
    }

    /**
     * Captures of other addresses that share much of its text, of each address the one that is most alike.
     *
     * @return list<array{Capture, float}> the most alike first
     */
    public function like(Capture $capture): array
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
        foreach ($this->database->fetchAllAssociative('SELECT c.id, c.address_id, f.hashes FROM capture c JOIN fingerprint f ON f.capture_id = c.id WHERE c.id IN (?) AND c.address_id <> ? AND f.hashes <> \'\'', [$ids, $capture->address->id], [ArrayParameterType::INTEGER]) as $row) {
            $one = new Row($row);
            $likeness = $fingerprint->likeness(Fingerprint::unpack($one->text('hashes')));
            if ($likeness >= self::LEAST && $likeness > ($best[$one->int('address_id')][1] ?? 0.0)) {
                $best[$one->int('address_id')] = [$one->int('id'), $likeness];
            }
        }
        usort($best, static fn (array $a, array $b): int => $b[1] <=> $a[1]);
        $best = \array_slice($best, 0, self::MOST);
        $captures = [];
        foreach ($this->entities->getRepository(Capture::class)->findBy(['id' => array_column($best, 0)]) as $found) {
            $captures[(int) $found->id] = $found;
        }

        return array_values(array_filter(array_map(static fn (array $one): ?array => isset($captures[$one[0]]) ? [$captures[$one[0]], $one[1]] : null, $best), static fn (?array $one): bool => null !== $one));
    }
}
