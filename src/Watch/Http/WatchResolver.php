<?php

declare(strict_types=1);

namespace Ypomna\App\Watch\Http;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Controller\ValueResolverInterface;
use Symfony\Component\HttpKernel\ControllerMetadata\ArgumentMetadata;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Ypomna\App\Shared\CurrentPerson;
use Ypomna\App\Watch\Entity\Watch;
use Ypomna\App\Watch\WatchRequests;

/** Gives controllers the watch that the `{code}` of their route names, as far as whoever asks may see it. */
final readonly class WatchResolver implements ValueResolverInterface
{
    public function __construct(private WatchRequests $watches, private CurrentPerson $person)
    {
    }

    /** @return list<Watch> */
    public function resolve(Request $request, ArgumentMetadata $argument): array
    {
        if (Watch::class !== $argument->getType()) {
            return [];
        }

        return [$this->watches->byCode($this->person->viewer(), $request->attributes->getString('code'))
            ?? throw new NotFoundHttpException('There is no such watch.')];
    }
}
