<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\Routing\Attribute\Route;
use Twig\Environment;
use Ypomna\App\Access\OpenToAnybody;
use Ypomna\App\Api\Answers;
use Ypomna\App\Api\Description;
use Ypomna\App\Replay\FetchMetadataGuard;

/** How the door for programs is used: for programs, and for those who write them. It tells of nothing that is held. */
#[AsController]
#[OpenToAnybody]
final readonly class DescriptionController
{
    public function __construct(private Description $description)
    {
    }

    #[Route('/api/openapi.json', name: 'api_openapi', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function openApi(): JsonResponse
    {
        return Answers::json($this->description->openApi());
    }

    #[Route('/api', name: 'api_page', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function page(Environment $twig): Response
    {
        return new Response($twig->render('api/page.html.twig', ['paths' => $this->description->openApi()['paths']]));
    }
}
