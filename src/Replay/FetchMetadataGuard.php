<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Symfony\Component\DependencyInjection\Attribute\AutowireServiceClosure;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Event\RequestEvent;
use Symfony\Component\HttpKernel\KernelEvents;
use Twig\Environment;

/**
 * What other sites may ask of this application by a reader's browser, as the browser itself says who asks (W3C Fetch Metadata
 * Request Headers). A link to a page of ours may be followed; where the page writes or calls out by being asked for (a route's
 * default ACTS), the reader is asked first. Nothing else is answered but what is meant for other sites (a route's default OPEN).
 *
 * The answer of a program or browser that says nothing is not touched; changes carry a token besides.
 */
#[AsEventListener(event: KernelEvents::REQUEST, priority: 16)]
final readonly class FetchMetadataGuard
{
    public const OPEN = ['_open_to_others' => true];
    public const ACTS = ['_acts_on_get' => true];

    /** @param \Closure(): Environment $twig what draws a page: hardly any request is answered here */
    public function __construct(#[AutowireServiceClosure(Environment::class)] private \Closure $twig)
    {
    }

    public function __invoke(RequestEvent $event): void
    {
        $request = $event->getRequest();
        $facts = $request->attributes;
        $ours = !$event->isMainRequest() || 'archived_page' === $facts->get('_route') || true === $facts->get('_open_to_others');
        if ($ours || !$request->isMethodSafe() || !self::isFromElsewhere($request)) {
            return;
        }
        if ('navigate' !== $request->headers->get('Sec-Fetch-Mode') || 'document' !== $request->headers->get('Sec-Fetch-Dest')) {
            $fields = ['Content-Type' => 'text/plain; charset=utf-8', 'Cache-Control' => 'no-store'];
            $event->setResponse(new Response("Another site asked for this; it may only link here.\n", Response::HTTP_FORBIDDEN, $fields));
        } elseif (true === $facts->get('_acts_on_get')) {
            $page = ($this->twig)()->render('ui/from_elsewhere.html.twig', ['path' => $request->getRequestUri()]);
            $event->setResponse(new Response($page, Response::HTTP_OK, ['Cache-Control' => 'no-store']));
        }
    }

    /** Whether another site is behind a request; false if the browser does not say. */
    public static function isFromElsewhere(Request $request): bool
    {
        return \in_array($request->headers->get('Sec-Fetch-Site'), ['cross-site', 'same-site'], true);
    }
}
