<?php

declare(strict_types=1);

namespace Ypomna\App\Watch\Http;

use Psr\EventDispatcher\EventDispatcherInterface;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Access\WithFeedKey;
use Ypomna\App\Shared\Event\RemindersAsked;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Watch\WatchEvents;
use Ypomna\App\Watch\WatchRequests;

/** What watches told, newest first; the same as a feed. */
#[Allow(Right::Read)]
final class EventController extends AbstractController
{
    public function __construct(
        private readonly WatchEvents $events,
        private readonly WatchRequests $watches,
        private readonly EventDispatcherInterface $house,
    ) {
    }

    #[Route('/events', name: 'events', methods: ['GET'])]
    public function all(Viewer $viewer, Request $request): Response
    {
        $watch = $this->watches->byCode($viewer, $request->query->getString('of'));

        return $this->render(
            'watch/events.html.twig',
            [
                'reminders' => null === $watch && 0 === $request->query->getInt('before') ? $this->reminders($viewer) : [],
                'events' => $this->events->events(
                    $viewer, $watch, max(0, $request->query->getInt('before')), 'new' === $request->query->getString('only'),
                ),
                'watch' => $watch,
                'only' => $request->query->getString('only'),
                'before' => $request->query->getInt('before'),
                'was' => $request->query->has('was') ? max(0, $request->query->getInt('was')) : null,
                'page_size' => WatchEvents::PAGE,
                'unseen' => $this->events->unseen($viewer),
            ],
        );
    }

    /** What is new is each reader's own, and so is what they have seen. */
    #[Route('/events', name: 'events_seen', methods: ['POST'])]
    #[IsCsrfTokenValid('events')]
    public function seen(Viewer $viewer, Request $request): Response
    {
        if ($request->request->has('back_to')) {
            $this->events->seenAgain($viewer, $request->request->getInt('back_to'));

            return $this->redirectToRoute('events', [], Response::HTTP_SEE_OTHER);
        }
        $before = $this->events->seen($viewer, $request->request->getInt('up_to'));

        return $this->redirectToRoute('events', ['was' => $before], Response::HTTP_SEE_OTHER);
    }

    /** Atom (RFC 4287). */
    #[WithFeedKey]
    #[Route('/events.atom', name: 'events_atom', methods: ['GET'])]
    public function atom(Viewer $viewer, Request $request): Response
    {
        $watch = $this->watches->byCode($viewer, $request->query->getString('of'));
        $events = $this->events->events($viewer, $watch);
        $reminders = null === $watch ? $this->reminders($viewer) : [];
        $none = new \DateTimeImmutable('2024-01-01', new \DateTimeZone('UTC'));
        $response = $this->render(
            'watch/events.atom.twig',
            [
                'events' => $events,
                'reminders' => $reminders,
                'watch' => $watch,
                'self' => $this->generateUrl(
                    'events_atom', null === $watch ? [] : ['of' => $watch->code], UrlGeneratorInterface::ABSOLUTE_URL,
                ),
                'home' => $this->generateUrl('events', [], UrlGeneratorInterface::ABSOLUTE_URL),
                'updated' => max($events[0]->at ?? $none, $reminders[0]['at'] ?? $none),
            ],
        );
        $response->headers->set('Content-Type', 'application/atom+xml; charset=utf-8');
        $response->setEtag(hash('sha256', (string) $response->getContent()));
        $response->isNotModified($request);

        return $response;
    }

    /** @return list<array{at: \DateTimeImmutable, title: string, path: string}> of what they were reminded lately */
    private function reminders(Viewer $viewer): array
    {
        $asked = new RemindersAsked($viewer);
        $this->house->dispatch($asked);

        return $asked->told();
    }
}
