<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Event\RequestEvent;
use Symfony\Component\HttpKernel\KernelEvents;
use Ypomna\Core\Split;

/**
 * Parts the application's own hosts from those of archived pages, and answers to no other: a name of somebody else's
 * that leads here (DNS rebinding) reaches nothing.
 */
#[AsEventListener(event: KernelEvents::REQUEST, priority: 512)]
final readonly class HostGate
{
    public function __construct(private PageHosts $pages, private string $appHosts, private string $pageHost)
    {
    }

    public function __invoke(RequestEvent $event): void
    {
        if (!$event->isMainRequest()) {
            return;
        }
        $given = strtolower($event->getRequest()->headers->get('Host', ''));
        $host = (string) preg_replace('/:\d+$/', '', $given);
        if (\in_array($host, Split::words($this->appHosts), true)) {
            return;
        }
        if ($this->pages->isPageHost($host)) {
            $event->getRequest()->attributes->set('_controller', PageController::class);
            $event->getRequest()->attributes->set('_route', 'archived_page');

            return;
        }
        $event->setResponse(new Response(
            \sprintf("This application does not answer to that host name. It answers to: %s (and below .%s, to archived pages).\n", $this->appHosts, $this->pageHost),
            Response::HTTP_MISDIRECTED_REQUEST,
            ['Content-Type' => 'text/plain; charset=utf-8'],
        ));
    }
}
