<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Capture\Message\CapturePage;
use Ypomna\App\Capture\Value\CaptureMode;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Network\CaptureOptions;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Codes;
use Ypomna\Core\Address\InvalidAddress;
use Ypomna\Core\Address\Url;

/** Takes the wish that a page be kept. */
final readonly class CaptureRequests
{
    public function __construct(private EntityManagerInterface $entities, private MessageBusInterface $bus, private ClockInterface $clock)
    {
    }

    /**
     * @throws InvalidAddress if that is no address of a page
     */
    public function ask(Actor $actor, string $typed, CaptureOptions $options = new CaptureOptions()): CaptureJob
    {
        return $this->put($actor, Url::typed($typed)->withoutFragment(), $options->signedIn(Url::typedUserinfo($typed)), null);
    }

    /** What a capture lacks is tried again. */
    public function complete(Actor $actor, Capture $capture): CaptureJob
    {
        return $this->put($actor, Url::typed($capture->url)->withoutFragment(), new CaptureOptions(), $capture->code);
    }

    private function put(Actor $actor, Url $url, CaptureOptions $options, ?string $missingOf): CaptureJob
    {
        // The job and the message about it are written together: neither is ever there without the other.
        return $this->entities->wrapInTransaction(function () use ($actor, $url, $options, $missingOf): CaptureJob {
            $mode = null !== $missingOf ? CaptureMode::Parts : ($options->rendered ? CaptureMode::Rendered : CaptureMode::Plain);
            $job = new CaptureJob(
                Codes::random(), (string) $url, $this->clock->now(), $actor->name, AddressKeys::keyHash((string) $url), $mode, $missingOf,
                options: [] === $options->toArray() ? null : $options->toArray(), secrets: $options->secretsToText(),
            );
            $this->entities->persist($job);
            $this->entities->flush();
            $this->bus->dispatch(new CapturePage((int) $job->id));

            return $job;
        });
    }
}
