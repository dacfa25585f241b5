<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\HttpKernel\Exception\ConflictHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Api\Answers;
use Ypomna\App\Api\Needs;
use Ypomna\App\Api\Told;
use Ypomna\App\Catalogue\Value\CapturePair;
use Ypomna\App\Compare\ComparisonReports;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Codes;
use Ypomna\Core\Warc\WarcError;

/** What differs between two captures. */
#[AsController]
#[Allow(Right::Read)]
final readonly class ComparisonController
{
    public function __construct(private ComparisonReports $reports)
    {
    }

    #[Told('Tells what differs between two captures; `old` is the earlier one.', body: 'Comparison', also: [409])]
    #[Needs(Scope::Read)]
    #[Route('/api/comparisons/{one}/{other}', name: 'api_comparison', requirements: ['one' => Codes::PATTERN, 'other' => Codes::PATTERN],
        defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function one(CapturePair $pair): JsonResponse
    {
        try {
            return Answers::json($this->reports->data($pair->old, $pair->new));
        } catch (WarcError $e) {
            throw new ConflictHttpException($e->getMessage(), $e);
        }
    }
}
