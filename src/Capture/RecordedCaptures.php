<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Doctrine\ORM\EntityManagerInterface;
use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Capture\Message\CapturePage;
use Ypomna\App\Capture\Value\CaptureStage;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Store\Store;

/**
 * Captures that this software made before, in another data folder: each file is put where its worker would have left it, and its job goes
 * on from there, as after a kill. So it counts as captured here. Meant for the demo and for tests, on a clock that plays the past.
 */
final readonly class RecordedCaptures
{
    public function __construct(private EntityManagerInterface $entities, private CapturePageHandler $handler, private Store $store)
    {
    }

    /**
     * @param string $code of the capture's job
     *
     * @throws \RuntimeException if the file cannot be copied into the store
     */
    public function enter(Actor $actor, string $code, string $url, \DateTimeImmutable $at, string $file): void
    {
        $job = $this->job($actor, $code, $url, $at);
        if (!$this->store->has($job->path())) {
            $incoming = $this->store->incoming($code);
            if (!@copy($file, $incoming)) {
                throw new \RuntimeException(\sprintf('“%s” cannot be copied into the store.', basename($file)));
            }
            $this->store->commit($incoming, $job->path());
        }
        ($this->handler)(new CapturePage((int) $job->id));
    }

    /** A capture that failed has no file. */
    public function enterFailure(Actor $actor, string $code, string $url, \DateTimeImmutable $at, string $reason, string $message): void
    {
        $job = $this->job($actor, $code, $url, $at);
        [$job->stage, $job->reason, $job->message, $job->finishedAt] = [CaptureStage::Failed, $reason, $message, $at];
        $this->entities->flush();
    }

    private function job(Actor $actor, string $code, string $url, \DateTimeImmutable $at): CaptureJob
    {
        $job = $this->entities->getRepository(CaptureJob::class)->findOneBy(['code' => $code])
            ?? new CaptureJob($code, $url, $at, $actor->name, AddressKeys::keyHash($url));
        $this->entities->persist($job);
        $this->entities->flush();

        return $job;
    }
}
