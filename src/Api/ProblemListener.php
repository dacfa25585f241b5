<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Event\ExceptionEvent;
use Symfony\Component\HttpKernel\Exception\HttpExceptionInterface;
use Symfony\Component\HttpKernel\KernelEvents;
use Ypomna\App\Desk\ChangedSince;

/** Whatever goes wrong below /api is told as a problem; what nobody expected stands in the log, and is told to nobody. */
#[AsEventListener(event: KernelEvents::EXCEPTION, priority: -10)]
final readonly class ProblemListener
{
    public function __construct(private Problems $problems)
    {
    }

    public function __invoke(ExceptionEvent $event): void
    {
        if (!ApiPath::is($event->getRequest())) {
            return;
        }
        $why = $event->getThrowable();
        if ($why instanceof InvalidFields) {
            $event->setResponse($this->problems->answer(Response::HTTP_UNPROCESSABLE_ENTITY, [], ['errors' => $why->errors]));

            return;
        }
        if ($why instanceof ChangedSince) {
            $event->setResponse($this->problems->answer(Response::HTTP_CONFLICT, [], ['items' => $why->items]));

            return;
        }
        [$status, $fields] = $why instanceof HttpExceptionInterface
            ? [$why->getStatusCode(), $why->getHeaders()] : [Response::HTTP_INTERNAL_SERVER_ERROR, []];
        $event->setResponse($this->problems->answer($status, $fields));
    }
}
