<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Controller\ValueResolverInterface;
use Symfony\Component\HttpKernel\ControllerMetadata\ArgumentMetadata;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Ypomna\App\Api\Value\ComingUpload;
use Ypomna\App\Api\Value\ToldJob;
use Ypomna\App\Capture\JobList;
use Ypomna\App\Exchange\Arrivals;
use Ypomna\App\Exchange\Value\ArrivalState;
use Ypomna\App\Shared\CurrentPerson;

/** Gives controllers the work, or the upload, that the `{code}` of their route names, as far as whoever asks may see it. */
final readonly class WorkResolver implements ValueResolverInterface
{
    public function __construct(private JobList $jobs, private Arrivals $arrivals, private CurrentPerson $person)
    {
    }

    /** @return list<ToldJob|ComingUpload> */
    public function resolve(Request $request, ArgumentMetadata $argument): array
    {
        $code = $request->attributes->getString('code');

        return match ($argument->getType()) {
            ToldJob::class => [$this->job($code)],
            ComingUpload::class => [$this->upload($code)],
            default => [],
        };
    }

    private function job(string $code): ToldJob
    {
        $viewer = $this->person->viewer();

        return new ToldJob(
            $this->jobs->byCode($viewer, $code) ?? $this->arrivals->seen($viewer, $code) ?? throw new NotFoundHttpException(),
        );
    }

    private function upload(string $code): ComingUpload
    {
        $arrival = $this->arrivals->byCode($code);
        if (null === $arrival || ArrivalState::Coming !== $arrival->state || !$this->arrivals->isOf($arrival, $this->person->actor())) {
            throw new NotFoundHttpException();
        }

        return new ComingUpload($arrival);
    }
}
