<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Liveness\CheckQueue;
use Ypomna\App\Liveness\CheckRepository;
use Ypomna\App\Liveness\Value\LiveState;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\InvalidAddress;
use Ypomna\Core\Address\Url;

/** How an address stands on the web today, and how it stood at each check. */
#[Allow(Right::Read)]
final class LiveController extends AbstractController
{
    private const STOP_POLLING = 286;

    public function __construct(private readonly CheckQueue $queue, private readonly CheckRepository $checks)
    {
    }

    #[Allow(Right::Keep)]
    #[Route('/live', name: 'live_check', methods: ['POST'])]
    #[IsCsrfTokenValid('live')]
    public function check(Viewer $viewer, Request $request): Response
    {
        $url = $this->address($request->request->getString('q'));
        if ($url instanceof Response) {
            return $url;
        }
        $this->queue->want(array_values($this->queue->ids($viewer, [$url])));
        if ('true' === $request->headers->get('HX-Request')) {
            return $this->render('liveness/_live.html.twig', ['url' => (string) $url]);
        }

        return $this->redirectToRoute('live', ['q' => (string) $url], Response::HTTP_SEE_OTHER);
    }

    #[Route('/live', name: 'live', methods: ['GET'])]
    public function show(Request $request): Response
    {
        $url = $this->address($request->query->getString('q'));

        return $url instanceof Response ? $url : $this->render('liveness/live.html.twig', ['url' => (string) $url]);
    }

    #[Route('/live/progress', name: 'live_progress', methods: ['GET'])]
    public function progress(Viewer $viewer, Request $request): Response
    {
        $url = $this->address($request->query->getString('q'));
        if ($url instanceof Response) {
            return $url;
        }
        $isWanted = array_filter($this->checks->states($viewer, (string) $url), static fn (LiveState $state): bool => $state->isWanted);

        return $this->render(
            'liveness/_live.html.twig',
            ['url' => (string) $url],
            new Response('', [] === $isWanted ? self::STOP_POLLING : Response::HTTP_OK),
        );
    }

    private function address(string $typed): Url|Response
    {
        try {
            return Url::typed($typed)->withoutFragment();
        } catch (InvalidAddress $e) {
            return $this->render(
                'catalogue/no_address.html.twig',
                ['typed' => $typed, 'why' => $e->getMessage()],
                new Response('', Response::HTTP_UNPROCESSABLE_ENTITY),
            );
        }
    }
}
