<?php

declare(strict_types=1);

namespace Ypomna\App\Ui\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\OpenToAnybody;
use Ypomna\App\Access\Right;
use Ypomna\App\Network\Reach\Reach;
use Ypomna\App\Network\Reach\ReachProof;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Ui\FirstView;

/** The first screen: one box, and what was kept last. */
#[Allow(Right::Read)]
final class FirstController extends AbstractController
{
    #[Route('/', name: 'first', methods: ['GET'])]
    public function first(Actor $actor, Viewer $viewer, FirstView $view, Request $request): Response
    {
        // For programs that know an address and no more.
        $keep = $request->query->all()['keep'] ?? null;
        if (\is_string($keep) && '' !== $keep) {
            return $this->redirectToRoute('keep', ['url' => $keep]);
        }

        return $this->render('ui/first.html.twig', $view->view($actor, $viewer));
    }

    #[OpenToAnybody]
    #[Route('/health', name: 'health', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function health(): Response
    {
        return new Response("ok\n", Response::HTTP_OK, ['Content-Type' => 'text/plain']);
    }

    /** By which the way to here is tried ({@see Reach}). */
    #[OpenToAnybody]
    #[Route(
        '/reached/{word}', name: 'reached', requirements: ['word' => ReachProof::WORD], defaults: FetchMetadataGuard::OPEN,
        methods: ['GET'],
    )]
    public function reached(string $word, Request $request, ReachProof $proof): Response
    {
        return new Response(
            $proof->answer($word, $request->isSecure()), Response::HTTP_OK,
            ['Content-Type' => 'text/plain; charset=utf-8', 'Cache-Control' => 'no-store'],
        );
    }
}
