<?php

declare(strict_types=1);

namespace Ypomna\App\Access;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\DependencyInjection\Attribute\AutowireServiceClosure;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpKernel\Event\ControllerEvent;
use Symfony\Component\Security\Core\Exception\AccessDeniedException;
use Ypomna\App\Shared\CurrentPerson;
use Ypomna\App\Shared\KnownPeople;

/**
 * Stands before every controller, and before anything is looked up for it: a route says which right it asks for, and one that says
 * nothing is closed. The right at the method goes before the one at the class.
 */
#[AsEventListener(priority: 100)]
final readonly class RouteGuard
{
    /**
     * What hardly any request needs is made only then.
     *
     * @param \Closure(): PublicReading $public
     * @param \Closure(): KnownPeople $people
     */
    public function __construct(
        private CurrentPerson $person,
        private Gate $gate,
        #[AutowireServiceClosure(PublicReading::class)] private \Closure $public,
        #[AutowireServiceClosure(KnownPeople::class)] private \Closure $people,
        #[Autowire('%kernel.debug%')] private bool $isDebugged,
    ) {
    }

    public function __invoke(ControllerEvent $event): void
    {
        // What is shown in place of an answer, as an error is, was asked for by nobody.
        if (!$event->isMainRequest() || [] !== $event->getAttributes(OpenToAnybody::class)) {
            return;
        }
        if ($this->isDebugged && str_starts_with($event->getRequest()->attributes->getString('_route'), '_')) {
            return;
        }
        $asked = $event->getAttributes(Allow::class);
        $right = [] === $asked ? null : end($asked)->right;
        $viewer = $this->person->viewer();
        if (null === $viewer->name && [] !== $event->getAttributes(InPublic::class) && ($this->public)()->isOn()) {
            ($this->public)()->count($event->getRequest());

            return;
        }
        if (null === $viewer->name && [] !== $event->getAttributes(WithFeedKey::class)) {
            $viewer = ($this->people)()->readerOfFeed(mb_substr($event->getRequest()->query->getString('key'), 0, 100));
            $event->getRequest()->attributes->set(CurrentPerson::READER, $viewer);
        }
        if (null === $right || !$this->gate->may($viewer, $right)) {
            throw new AccessDeniedException();
        }
        $session = $event->getRequest()->hasSession(true) ? $event->getRequest()->getSession() : null;
        if (null !== $session && $session->isStarted() && $event->getRequest()->isMethodSafe()) {
            // Only one request at a time may have it; others of the same person need not wait for what this one computes.
            $session->save();
        }
    }
}
