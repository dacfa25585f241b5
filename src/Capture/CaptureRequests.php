<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Access\Grants;
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
    public function __construct(
        private EntityManagerInterface $entities,
        private MessageBusInterface $bus,
        private ClockInterface $clock,
        private Grants $grants,
    ) {
    }

    /**
     * @param bool $confidential whether only some may see it: whoever asks, and the people of the dossier
     * @param string|null $dossier code of the one that is to hold the capture
     *
     * @throws InvalidAddress if that is no address of a page
     */
    public function ask(
        Actor $actor,
        string $typed,
        CaptureOptions $options = new CaptureOptions(),
        bool $confidential = false,
        ?string $dossier = null,
        ?\DateTimeImmutable $due = null,
        bool $brought = true,
    ): CaptureJob {
        $url = Url::typed($typed)->withoutFragment();

        return $this->put($actor, $url, $options->signedIn(Url::typedUserinfo($typed)), null, $confidential, $dossier, $due, $brought);
    }

    /** What a capture lacks is tried again. */
    public function complete(Actor $actor, Capture $capture): CaptureJob
    {
        return $this->put($actor, Url::typed($capture->url)->withoutFragment(), new CaptureOptions(), $capture);
    }

    private function put(
        Actor $actor,
        Url $url,
        CaptureOptions $options,
        ?Capture $lacking,
        bool $confidential = false,
        ?string $dossier = null,
        ?\DateTimeImmutable $due = null,
        bool $brought = true,
    ): CaptureJob {
        // The job and the message about it are written together: neither is ever there without the other.
        return $this->entities->wrapInTransaction(function () use (
            $actor,
            $url,
            $options,
            $lacking,
            $confidential,
            $dossier,
            $due,
            $brought,
        ): CaptureJob {
            $mode = null !== $lacking ? CaptureMode::Parts : ($options->rendered ? CaptureMode::Rendered : CaptureMode::Plain);
            $job = new CaptureJob(
                Codes::random(), (string) $url, $this->clock->now(), $actor->name, AddressKeys::keyHash((string) $url), $mode,
                $lacking?->code,
                options: [] === $options->toArray() ? null : $options->toArray(), secrets: $options->secretsToText(),
            );
            [$job->dossier, $job->due, $job->brought] = [$dossier, $due, $brought && null === $lacking];
            $job->limited = $confidential || true === $lacking?->limited;
            if ($job->limited) {
                $this->grants->made([$job->code], $actor->name);
            }
            if (null !== $dossier) {
                $this->grants->held([$job->code], $dossier);
            }
            $this->entities->persist($job);
            $this->entities->flush();
            $this->bus->dispatch(new CapturePage((int) $job->id));

            return $job;
        });
    }
}
