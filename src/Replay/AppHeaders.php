<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpKernel\Event\ResponseEvent;
use Symfony\Component\HttpKernel\KernelEvents;
use Ypomna\App\Shared\PublicUrl;

/** Headers of the application's own pages: they take nothing from elsewhere, and are framed by nobody. */
#[AsEventListener(event: KernelEvents::RESPONSE, priority: -10)]
final readonly class AppHeaders
{
    /** Attribute of a request whose answer has a style of that SHA-256 (base64) in it. */
    public const STYLE = '_style_hash';

    public function __construct(private PageHosts $pages, private PublicUrl $public)
    {
    }

    public function __invoke(ResponseEvent $event): void
    {
        $request = $event->getRequest();
        if (!$event->isMainRequest() || \in_array($request->attributes->get('_route'), ['archived_page', 'raw'], true)) {
            return;
        }
        // What is meant to be shown in pages of others holds nothing that could be pressed by mistake.
        $ancestors = 'embed' === $request->attributes->get('_route') ? '*' : "'none'";
        // A page that stands by itself when it is saved has its style in it.
        $hash = $request->attributes->get(self::STYLE);
        $style = \is_string($hash) ? " 'sha256-{$hash}'" : '';
        $headers = $event->getResponse()->headers;
        $headers->set('Content-Security-Policy', "default-src 'none'; script-src 'self'; style-src 'self'".$style."; img-src 'self'"
            ." data:; media-src 'self'; font-src 'self'; connect-src 'self'; manifest-src 'self'; worker-src 'self'; frame-src "
            .$this->pages->everyPage($this->public->scheme, $this->public->portPart())
            ."; form-action 'self'; base-uri 'none'; frame-ancestors ".$ancestors);
        $headers->set('X-Content-Type-Options', 'nosniff');
        $headers->set('Referrer-Policy', 'same-origin');
        $headers->set('Cross-Origin-Opener-Policy', 'same-origin');
        if ($this->public->isTls() && $request->isSecure()) {
            // RFC 6797, for a year. Of other names below this one nothing is known.
            $headers->set('Strict-Transport-Security', 'max-age=31536000');
        }
    }
}
