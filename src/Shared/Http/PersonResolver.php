<?php

declare(strict_types=1);

namespace Ypomna\App\Shared\Http;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Controller\ValueResolverInterface;
use Symfony\Component\HttpKernel\ControllerMetadata\ArgumentMetadata;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\CurrentPerson;
use Ypomna\App\Shared\Viewer;

/** Gives controllers who reads and who acts, where they ask for a {@see Viewer} or an {@see Actor}. */
final readonly class PersonResolver implements ValueResolverInterface
{
    public function __construct(private CurrentPerson $person)
    {
    }

    /** @return list<Viewer|Actor> */
    public function resolve(Request $request, ArgumentMetadata $argument): iterable
    {
        return match ($argument->getType()) {
            Viewer::class => [$this->reader($request) ?? $this->person->viewer()],
            Actor::class => [$this->person->actor()],
            default => [],
        };
    }

    private function reader(Request $request): ?Viewer
    {
        $reader = $request->attributes->get(CurrentPerson::READER);

        return $reader instanceof Viewer ? $reader : null;
    }
}
