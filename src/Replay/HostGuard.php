<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Event\RequestEvent;
use Symfony\Component\HttpKernel\KernelEvents;
use Ypomna\App\Replay\Http\PageController;

/**
 * Parts the application's own hosts from those of archived pages, and answers to no other: a name of somebody else's
 * that leads here (DNS rebinding) reaches nothing, and neither does another port.
 */
#[AsEventListener(event: KernelEvents::REQUEST, priority: 512)]
final readonly class HostGuard
{
    public function __construct(private HostNames $names, private string $pagesDomain)
    {
    }

    public function __invoke(RequestEvent $event): void
    {
        if (!$event->isMainRequest()) {
            return;
        }
        $given = $event->getRequest()->headers->get('Host', '');
        if ($this->names->isOwn($given)) {
            return;
        }
        if ($this->names->isPage($given)) {
            $event->getRequest()->attributes->set('_controller', PageController::class);
            $event->getRequest()->attributes->set('_route', 'archived_page');

            return;
        }
        $event->setResponse(new Response(
            \sprintf(
                'This application does not answer to that host name, or not at that port. It answers to: %s (and below .%s, to archived'
                    ." pages).\n",
                $this->names,
                $this->pagesDomain,
            ),
            Response::HTTP_MISDIRECTED_REQUEST,
            ['Content-Type' => 'text/plain; charset=utf-8'],
        ));
    }
}
