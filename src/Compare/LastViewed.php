<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Event\TerminateEvent;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\CurrentPerson;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;

/** Which capture of an address somebody looked at last: what is new since then is asked for often. */
final readonly class LastViewed
{
    public function __construct(
        private Connection $database,
        private CaptureRepository $captures,
        private ClockInterface $clock,
        private CurrentPerson $person,
    ) {
    }

    #[AsEventListener]
    public function noted(TerminateEvent $event): void
    {
        $request = $event->getRequest();
        $code = 'read' === $request->attributes->get('_route') && 200 === $event->getResponse()->getStatusCode()
            ? $request->attributes->get('code')
            : null;
        if (!\is_string($code)) {
            return;
        }
        // Asked for only here: who reads is known by now, and what is sent cannot be changed any more.
        $viewer = $this->person->viewer();
        $capture = $this->captures->byCode($viewer, $code);
        if (null !== $capture) {
            $this->note($viewer, $capture, $request);
        }
    }

    /** The newest capture that was seen counts, whatever older ones are read afterwards; where another site sent the reader does not. */
    public function note(Viewer $viewer, Capture $capture, Request $request): void
    {
        if (null === $viewer->name || FetchMetadataGuard::isFromElsewhere($request)) {
            return;
        }
        $before = $this->of($viewer, $capture->address);
        if (null === $before || $before->capturedAt < $capture->capturedAt) {
            $this->database->executeStatement(
                <<<'SQL'
                    INSERT INTO last_viewed (person, address_code, capture_code, viewed_at)
                    VALUES (?, ?, ?, ?)
                    ON DUPLICATE KEY UPDATE capture_code = VALUES(capture_code), viewed_at = VALUES(viewed_at)
                    SQL,
                [$viewer->name, $capture->address->code, $capture->code, MomentType::text($this->clock->now())],
            );
        }
    }

    public function of(Viewer $viewer, Address $address): ?Capture
    {
        $code = $this->database->fetchOne(
            'SELECT capture_code FROM last_viewed WHERE person = ? AND address_code = ?', [$viewer->name ?? '', $address->code],
        );

        return \is_string($code) ? $this->captures->byCode($viewer, $code) : null;
    }
}
