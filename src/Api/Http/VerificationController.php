<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Api\Answers;
use Ypomna\App\Api\Needs;
use Ypomna\App\Api\Told;
use Ypomna\App\Exchange\Entity\Verification;
use Ypomna\App\Exchange\Verifier;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Actor;

/** Whether everything is as it was entered. */
#[AsController]
#[Allow(Right::Read)]
final readonly class VerificationController
{
    public function __construct(private Verifier $verifier, private UrlGeneratorInterface $urls)
    {
    }

    #[Told('Has everything verified; while that is under way, it is not begun again.', 202, 'Verification', also: [409])]
    #[Needs(Scope::Write, Right::Guard)]
    #[Route('/api/verifications', name: 'api_verify', defaults: FetchMetadataGuard::OPEN, methods: ['POST'])]
    public function ask(Actor $actor): JsonResponse
    {
        return Answers::json(self::told($this->verifier->ask($actor)), Response::HTTP_ACCEPTED, [
            'Location' => $this->urls->generate('api_verification'),
        ]);
    }

    #[Told('Tells what the verification found that was begun last.', body: 'Verification')]
    #[Needs(Scope::Read, Right::Guard)]
    #[Route('/api/verifications/latest', name: 'api_verification', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function latest(): JsonResponse
    {
        return Answers::json(self::told($this->verifier->latest() ?? throw new NotFoundHttpException()));
    }

    /** @return array<string, mixed> */
    private static function told(Verification $verification): array
    {
        return [
            'code' => $verification->code, 'by' => $verification->person, 'startedAt' => Answers::moment($verification->startedAt),
            'finishedAt' => Answers::moment($verification->finishedAt), 'files' => $verification->files,
            'filesDone' => $verification->filesDone, 'records' => $verification->records, 'ledgerLines' => $verification->ledgerLines,
            'findings' => $verification->findings,
        ];
    }
}
