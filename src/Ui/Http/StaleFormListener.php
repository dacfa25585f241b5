<?php

declare(strict_types=1);

namespace Ypomna\App\Ui\Http;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Event\ExceptionEvent;
use Symfony\Component\HttpKernel\KernelEvents;
use Symfony\Component\Security\Core\Exception\InvalidCsrfTokenException;
use Twig\Environment;

/** A form whose token does not hold changes nothing; what was typed into it is shown again. */
#[AsEventListener(event: KernelEvents::EXCEPTION, priority: 10)]
final readonly class StaleFormListener
{
    public function __construct(private Environment $twig)
    {
    }

    public function __invoke(ExceptionEvent $event): void
    {
        if ($event->getThrowable() instanceof InvalidCsrfTokenException) {
            $typed = $event->getRequest()->request->all()['q'] ?? '';
            $body = $this->twig->render('ui/refused.html.twig', ['typed' => \is_string($typed) ? $typed : '']);
            $event->setResponse(new Response($body, Response::HTTP_FORBIDDEN));
        }
    }
}
