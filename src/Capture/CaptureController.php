<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Catalogue\Codes;
use Ypomna\Core\Address\InvalidAddress;

/** Asking for a page to be kept, and watching it happen. */
final class CaptureController extends AbstractController
{
    /** Tells htmx to stop asking. */
    private const STOP_POLLING = 286;

    public function __construct(private readonly JobList $jobs)
    {
    }

    #[Route('/keep', name: 'keep', methods: ['POST'])]
    public function keep(Request $request, CaptureDesk $desk): Response
    {
        $typed = $request->request->getString('q');
        if (!$this->isCsrfTokenValid('keep', $request->request->getString('_token'))) {
            return $this->render('ui/refused.html.twig', ['typed' => $typed], new Response('', Response::HTTP_FORBIDDEN));
        }
        try {
            $job = $desk->ask($typed);
        } catch (InvalidAddress $e) {
            return $this->render('catalogue/no_address.html.twig', ['typed' => $typed, 'why' => $e->getMessage()], new Response('', Response::HTTP_UNPROCESSABLE_ENTITY));
        }

        return $this->redirectToRoute('capture_job', ['code' => $job->code], Response::HTTP_SEE_OTHER);
    }

    #[Route('/captures', name: 'captures', methods: ['GET'])]
    public function list(): Response
    {
        return $this->render('capture/list.html.twig', ['open' => $this->jobs->open(), 'ended' => $this->jobs->ended()]);
    }

    #[Route('/captures/{code}', name: 'capture_job', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function job(string $code): Response
    {
        return $this->render('capture/job.html.twig', ['job' => $this->found($code)]);
    }

    /** The changing part of a job's page. */
    #[Route('/captures/{code}/progress', name: 'capture_progress', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function progress(string $code): Response
    {
        $job = $this->found($code);

        return $this->render('capture/_progress.html.twig', ['job' => $job], new Response('', $job->stage->isFinal() ? self::STOP_POLLING : Response::HTTP_OK));
    }

    private function found(string $code): CaptureJob
    {
        return $this->jobs->byCode($code) ?? throw $this->createNotFoundException('There is no such capture job.');
    }
}
