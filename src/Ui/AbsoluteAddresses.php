<?php

declare(strict_types=1);

namespace Ypomna\App\Ui;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpKernel\Event\RequestEvent;
use Symfony\Component\HttpKernel\KernelEvents;
use Symfony\Component\Routing\RouterInterface;
use Ypomna\App\Shared\PublicUrl;

/**
 * Whole addresses of our pages (permanent ones, those in mails and answers to programs) are those of the settings, whatever name and
 * port this request came by: they are written into documents, and have to lead here for everybody.
 */
#[AsEventListener(event: KernelEvents::REQUEST, priority: 31)]
final readonly class AbsoluteAddresses
{
    public function __construct(private RouterInterface $router, private PublicUrl $public)
    {
    }

    public function __invoke(RequestEvent $event): void
    {
        if (!$event->isMainRequest()) {
            return;
        }
        $this->router->getContext()->setScheme($this->public->scheme)->setHost($this->public->host)
            ->setHttpPort($this->public->isTls() ? 80 : $this->public->port)
            ->setHttpsPort($this->public->isTls() ? $this->public->port : 443);
    }
}
