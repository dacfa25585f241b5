<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Http;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Controller\ValueResolverInterface;
use Symfony\Component\HttpKernel\ControllerMetadata\ArgumentMetadata;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Ypomna\App\Exchange\Entity\Parcel;
use Ypomna\App\Exchange\Parcels;
use Ypomna\App\Shared\CurrentPerson;

/** Gives controllers the parcel that the `{code}` of their route names, if it is for whoever asks. */
final readonly class ParcelResolver implements ValueResolverInterface
{
    public function __construct(private Parcels $parcels, private CurrentPerson $person)
    {
    }

    /** @return list<Parcel> */
    public function resolve(Request $request, ArgumentMetadata $argument): array
    {
        if (Parcel::class !== $argument->getType()) {
            return [];
        }

        return [$this->parcels->byCode($this->person->viewer(), $request->attributes->getString('code'))
            ?? throw new NotFoundHttpException('There is no such export.')];
    }
}
