<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Http;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Controller\ValueResolverInterface;
use Symfony\Component\HttpKernel\ControllerMetadata\ArgumentMetadata;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Ypomna\App\Desk\DossierRepository;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Shared\CurrentPerson;

/** Gives controllers the dossier that the `{code}` of their route names, as far as whoever asks may see it. */
final readonly class DossierResolver implements ValueResolverInterface
{
    public function __construct(private DossierRepository $dossiers, private CurrentPerson $person)
    {
    }

    /** @return list<Dossier> */
    public function resolve(Request $request, ArgumentMetadata $argument): array
    {
        if (Dossier::class !== $argument->getType()) {
            return [];
        }

        return [$this->dossiers->byCode($this->person->viewer(), $request->attributes->getString('code'))
            ?? throw new NotFoundHttpException('There is no such dossier.')];
    }
}
