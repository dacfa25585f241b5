<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Doctrine\ORM\EntityManagerInterface;
use Ypomna\App\Access\Gate;
use Ypomna\App\Access\Sight;
use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Capture\Event\CaptureEnded;
use Ypomna\App\Capture\Value\CaptureStage;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Viewer;

/** Captures that are under way, and those that have ended. */
final readonly class JobList
{
    private const MANY = 50;

    public function __construct(private EntityManagerInterface $entities, private Gate $gate)
    {
    }

    public function byCode(Viewer $viewer, string $code): ?CaptureJob
    {
        return $this->some($viewer, 'j.code = :code', ['code' => $code], 1)[0] ?? null;
    }

    /**
     * @return list<CaptureJob>
     */
    public function open(Viewer $viewer): array
    {
        return $this->some($viewer, 'j.finishedAt IS NULL AND j.stage IN (:stages)', ['stages' => [
            CaptureStage::Waiting->value, CaptureStage::Opening->value, CaptureStage::Loading->value, CaptureStage::Scrolling->value,
            CaptureStage::Reading->value, CaptureStage::Writing->value, CaptureStage::Cataloguing->value,
        ]], self::MANY, 'ASC');
    }

    /**
     * @return list<CaptureJob> newest first
     */
    public function ended(Viewer $viewer): array
    {
        return $this->some($viewer, 'j.finishedAt IS NOT NULL', [], self::MANY);
    }

    /**
     * Captures that failed since then, unless the page was captured later; those of lists are told there.
     *
     * @return list<CaptureJob> newest first
     */
    public function failed(Viewer $viewer, \DateTimeImmutable $since, int $most): array
    {
        $sight = $this->gate->sight($viewer);
        $query = $this->entities->createQuery(\sprintf(
            <<<'SQL'
                SELECT j
                FROM %1$s j
                WHERE j.finishedAt > :since AND j.stage = :failed AND j.listId IS NULL AND %2$s AND NOT EXISTS (
                    SELECT l.id
                    FROM %1$s l
                    WHERE l.keyHash = j.keyHash AND l.id > j.id AND l.stage = :done AND %3$s
                )
                ORDER BY j.id DESC
                SQL,
            CaptureJob::class, self::seen($sight, 'j'), self::seen($sight, 'l'),
        ))
            ->setParameter('since', $since, 'moment')
            ->setParameter('failed', CaptureStage::Failed->value)
            ->setParameter('done', CaptureStage::Done->value)
            ->setMaxResults($most);
        foreach ($sight->parameters() as $name => $value) {
            $query->setParameter($name, $value);
        }
        /** @var list<CaptureJob> $jobs */
        $jobs = $query->getResult();

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
            $ended[$job['code']] = new CaptureEnded($job['code'], $job['captureCode'], $job['reason'], $job['dossier'], $job['agent']);
        }

        return $ended;
    }

    /**
     * The last attempt to capture an address, if it failed.
     *
     * @return array{code: string, requestedAt: \DateTimeImmutable, reason: string}|null null if it did not fail, or there was none
     */
    public function lastFailure(Viewer $viewer, string $url): ?array
    {
        $sight = $this->gate->sight($viewer);
        $job = $this->read(
            'j.keyHash = :key AND '.self::seen($sight, 'j'), ['key' => AddressKeys::keyHash($url)] + $sight->parameters(), 1,
        )[0] ?? null;

        return null === $job || null === $job['reason']
            ? null
            : ['code' => $job['code'], 'requestedAt' => $job['requestedAt'], 'reason' => $job['reason']];
    }

    /**
     * As the database has them: workers write how a job ended past the objects that stand for it.
     *
     * @param array<string, mixed> $parameters
     *
     * @return list<array{
     *     code: string, captureCode: string|null, reason: string|null, requestedAt: \DateTimeImmutable, dossier: string|null,
     *     agent: string,
     * }> the newest first
     */
    private function read(string $where, array $parameters, ?int $most = null): array
    {
        $query = $this->entities->createQuery(\sprintf(
            'SELECT j.code, j.captureCode, j.reason, j.requestedAt, j.dossier, j.agent FROM %s j WHERE %s ORDER BY j.id DESC',
            CaptureJob::class, $where,
        ));
        foreach ($parameters as $name => $value) {
            $query->setParameter($name, $value, 'key' === $name ? 'digest' : null);
        }
        /**
         * @var list<array{
         *     code: string, captureCode: string|null, reason: string|null, requestedAt: \DateTimeImmutable, dossier: string|null,
         *     agent: string,
         * }> $rows
         */
        $rows = $query->setMaxResults($most)->getArrayResult();

        return $rows;
    }

    /**
     * @param array<string, mixed> $parameters
     *
     * @return list<CaptureJob>
     */
    private function some(Viewer $viewer, string $where, array $parameters, int $most, string $order = 'DESC'): array
    {
        $sight = $this->gate->sight($viewer);
        $query = $this->entities->createQuery(\sprintf(
            'SELECT j FROM %s j WHERE %s AND %s ORDER BY j.id %s', CaptureJob::class, $where, self::seen($sight, 'j'), $order,
        ));
        foreach ($parameters + $sight->parameters() as $name => $value) {
            $query->setParameter($name, $value);
        }
        /** @var list<CaptureJob> $jobs */
        $jobs = $query->setMaxResults($most)->getResult();

        return $jobs;
    }

    /** A job that came to a capture is seen as that is. */
    private static function seen(Sight $sight, string $alias): string
    {
        return $sight->dql($alias.'.limited', 'COALESCE('.$alias.'.captureCode, '.$alias.'.code)');
    }
}
