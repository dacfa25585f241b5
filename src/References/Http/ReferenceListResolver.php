<?php

declare(strict_types=1);

namespace Ypomna\App\References\Http;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Controller\ValueResolverInterface;
use Symfony\Component\HttpKernel\ControllerMetadata\ArgumentMetadata;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Ypomna\App\References\Entity\ReferenceList;
use Ypomna\App\References\ReferenceLists;

/** Gives controllers the references that the `{code}` of their route names. */
final readonly class ReferenceListResolver implements ValueResolverInterface
{
    public function __construct(private ReferenceLists $lists)
    {
    }

    /** @return list<ReferenceList> */
    public function resolve(Request $request, ArgumentMetadata $argument): array
    {
        if (ReferenceList::class !== $argument->getType()) {
            return [];
        }
        $code = $request->attributes->get('code');

        return [(\is_string($code) ? $this->lists->byCode($code) : null)
            ?? throw new NotFoundHttpException('There are no such references.')];
    }
}
