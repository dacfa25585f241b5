<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Doctrine\ORM\EntityManagerInterface;
use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Capture\Value\CaptureStage;

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
        return $this->entities->getRepository(CaptureJob::class)->findBy(['finishedAt' => null, 'stage' => [CaptureStage::Waiting, CaptureStage::Opening, CaptureStage::Loading, CaptureStage::Scrolling, CaptureStage::Reading, CaptureStage::Writing, CaptureStage::Cataloguing]], ['id' => 'ASC'], self::MANY);
    }

    /**
     * @return list<CaptureJob> newest first
     */
    public function ended(): array
    {
        /** @var list<CaptureJob> $jobs */
        $jobs = $this->entities->createQuery(\sprintf('SELECT j FROM %s j WHERE j.finishedAt IS NOT NULL ORDER BY j.id DESC', CaptureJob::class))->setMaxResults(self::MANY)->getResult();

        return $jobs;
    }
}
