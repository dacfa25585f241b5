<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Doctrine\ORM\EntityManagerInterface;
use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Capture\Event\CaptureEnded;
use Ypomna\App\Capture\Value\CaptureStage;
use Ypomna\App\Shared\AddressKeys;

/** Captures that are under way, and those that have ended. */
final readonly class JobList
{
    private const MANY = 50;

    public function __construct(private EntityManagerInterface $entities)
    {
    }

    public function byCode(string $code): ?CaptureJob
    {
        return $this->entities->getRepository(CaptureJob::class)->findOneBy(['code' => $code]);
    }

    /**
     * @return list<CaptureJob>
     */
    public function open(): array
    {
        return $this->entities->getRepository(CaptureJob::class)->findBy(
            [
                'finishedAt' => null,
                'stage' => [
                    CaptureStage::Waiting, CaptureStage::Opening, CaptureStage::Loading, CaptureStage::Scrolling, CaptureStage::Reading,
                    CaptureStage::Writing, CaptureStage::Cataloguing,
                ],
            ],
            ['id' => 'ASC'],
            self::MANY,
        );
    }

    /**
     * @return list<CaptureJob> newest first
     */
    public function ended(): array
    {
        /** @var list<CaptureJob> $jobs */
        $jobs = $this->entities->createQuery(\sprintf(
            'SELECT j FROM %s j WHERE j.finishedAt IS NOT NULL ORDER BY j.id DESC', CaptureJob::class,
        ))
            ->setMaxResults(self::MANY)->getResult();

        return $jobs;
    }

    /**
     * Captures that failed since then, unless the page was captured later; those of lists are told there.
     *
     * @return list<CaptureJob> newest first
     */
    public function failed(\DateTimeImmutable $since, int $most): array
    {
        /** @var list<CaptureJob> $jobs */
        $jobs = $this->entities->createQuery(\sprintf(
            <<<'SQL'
                SELECT j
                FROM %1$s j
                WHERE j.finishedAt > :since AND j.stage = :failed AND j.listId IS NULL AND NOT EXISTS (
                    SELECT l.id
                    FROM %1$s l
                    WHERE l.keyHash = j.keyHash AND l.id > j.id AND l.stage = :done
                )
                ORDER BY j.id DESC
                SQL,
            CaptureJob::class,
        ))
            ->setParameter('since', $since, 'moment')
            ->setParameter('failed', CaptureStage::Failed->value)
            ->setParameter('done', CaptureStage::Done->value)
            ->setMaxResults($most)->getResult();

        return $jobs;
    }

    /**
     * How jobs ended.
     *
     * @param list<string> $codes
     *
     * @return array<string, CaptureEnded> by code, of those that have ended
     */
    public function endedOf(array $codes): array
    {
        $ended = [];
        foreach ($this->read(
            'j.code IN (:codes) AND j.stage IN (:final)',
            ['codes' => $codes, 'final' => [CaptureStage::Done->value, CaptureStage::Failed->value]],
        ) as $job) {
            $ended[$job['code']] = new CaptureEnded($job['code'], $job['captureCode'], $job['reason']);
        }

        return $ended;
    }

    /**
     * The last attempt to capture an address, if it failed.
     *
     * @return array{code: string, requestedAt: \DateTimeImmutable, reason: string}|null null if it did not fail, or there was none
     */
    public function lastFailure(string $url): ?array
    {
        $job = $this->read('j.keyHash = :key', ['key' => AddressKeys::keyHash($url)], 1)[0] ?? null;

        return null === $job || null === $job['reason']
            ? null
            : ['code' => $job['code'], 'requestedAt' => $job['requestedAt'], 'reason' => $job['reason']];
    }

    /**
     * As the database has them: workers write how a job ended past the objects that stand for it.
     *
     * @param array<string, mixed> $parameters
     *
     * @return list<array{code: string, captureCode: string|null, reason: string|null, requestedAt: \DateTimeImmutable}> the newest first
     */
    private function read(string $where, array $parameters, ?int $most = null): array
    {
        $query = $this->entities->createQuery(\sprintf(
            'SELECT j.code, j.captureCode, j.reason, j.requestedAt FROM %s j WHERE %s ORDER BY j.id DESC', CaptureJob::class, $where,
        ));
        foreach ($parameters as $name => $value) {
            $query->setParameter($name, $value, 'key' === $name ? 'digest' : null);
        }
        /** @var list<array{code: string, captureCode: string|null, reason: string|null, requestedAt: \DateTimeImmutable}> $rows */
        $rows = $query->setMaxResults($most)->getArrayResult();

        return $rows;
    }
}
