<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Row;
use Ypomna\App\Retried;
use Ypomna\Core\Compare\Fingerprint;
use Ypomna\Core\Warc\WarcError;

/** Finds captures whose texts share much, across the holdings. */
final readonly class Fingerprints
{
    private const LEAST = 0.3;
    private const MOST = 40;
    private const MOST_LOOKED_AT = 2_000;

    public function __construct(private Connection $database, private EntityManagerInterface $entities, private CaptureContent $content)
    {
    }

    public function take(int $captureId): ?Fingerprint
    {
        $held = $this->database->fetchOne('SELECT hashes FROM fingerprint WHERE capture_id = ?', [$captureId]);
        if (\is_string($held)) {
            return '' === $held ? null : Fingerprint::unpack($held);
        }
        $capture = $this->entities->find(Capture::class, $captureId);
        if (null === $capture || null !== $capture->redirectTo || !$capture->isAlive()) {
            return null;
        }
        try {
            $fingerprint = Fingerprint::of($this->content->document($capture)->passages);
        } catch (WarcError) {
            return null;
        }
        Retried::transaction($this->database, function () use ($captureId, $fingerprint): void {
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
