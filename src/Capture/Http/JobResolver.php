<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Http;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Controller\ValueResolverInterface;
use Symfony\Component\HttpKernel\ControllerMetadata\ArgumentMetadata;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Capture\JobList;
use Ypomna\App\Shared\CurrentPerson;

/** Gives controllers the job that the `{code}` of their route names, as far as whoever asks may see it. */
final readonly class JobResolver implements ValueResolverInterface
{
    public function __construct(private JobList $jobs, private CurrentPerson $person)
    {
    }

    /** @return list<CaptureJob> */
    public function resolve(Request $request, ArgumentMetadata $argument): array
    {
        if (CaptureJob::class !== $argument->getType()) {
            return [];
        }

        return [$this->jobs->byCode($this->person->viewer(), $request->attributes->getString('code'))
            ?? throw new NotFoundHttpException('There is no such capture job.')];
    }
}
