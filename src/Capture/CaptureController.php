<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Catalogue\CaptureFinder;
use Ypomna\App\Catalogue\Codes;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Compare\ChangeMeter;
use Ypomna\Core\Address\InvalidAddress;

/** Asking for a page to be kept, and watching it happen. */
final class CaptureController extends AbstractController
{
    /** Tells htmx to stop asking. */
    private const STOP_POLLING = 286;

    public function __construct(private readonly JobList $jobs, private readonly CaptureFinder $captures, private readonly ChangeMeter $meter)
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
            $form = $request->request;
            $job = $desk->ask($typed, 'plain' === $form->getString('how') ? CaptureHow::Plain : CaptureHow::Rendered, '1' === $form->getString('phone'), '1' === $form->getString('without_scripts'));
        } catch (InvalidAddress $e) {
            return $this->render('catalogue/no_address.html.twig', ['typed' => $typed, 'why' => $e->getMessage()], new Response('', Response::HTTP_UNPROCESSABLE_ENTITY));
        }

        $against = $request->request->getString('against');

        return $this->redirectToRoute('capture_job', ['code' => $job->code] + (1 === preg_match('/^'.Codes::PATTERN.'$/D', $against) ? ['against' => $against] : []), Response::HTTP_SEE_OTHER);
    }

    /** Tries again to get what a capture lacks. */
    #[Route('/c/{code}/complete', name: 'capture_complete', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    public function complete(string $code, Request $request, CaptureDesk $desk): Response
    {
        if (!$this->isCsrfTokenValid('keep', $request->request->getString('_token'))) {
            return $this->render('ui/refused.html.twig', ['typed' => ''], new Response('', Response::HTTP_FORBIDDEN));
        }
        $capture = $this->captures->byCode($code) ?? throw $this->createNotFoundException('There is no capture at this permanent address.');

        return $this->redirectToRoute('capture_job', ['code' => $desk->complete($capture)->code], Response::HTTP_SEE_OTHER);
    }

    #[Route('/captures', name: 'captures', methods: ['GET'])]
    public function list(): Response
    {
        return $this->render('capture/list.html.twig', ['open' => $this->jobs->open(), 'ended' => $this->jobs->ended()]);
    }

    #[Route('/captures/{code}', name: 'capture_job', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function job(string $code, Request $request): Response
    {
        $job = $this->found($code);

        return $this->render('capture/job.html.twig', ['job' => $job] + $this->against($job, $request));
    }

    /** The changing part of a job's page. */
    #[Route('/captures/{code}/progress', name: 'capture_progress', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function progress(string $code, Request $request): Response
    {
        $job = $this->found($code);

        return $this->render('capture/_progress.html.twig', ['job' => $job] + $this->against($job, $request), new Response('', $job->stage->isFinal() ? self::STOP_POLLING : Response::HTTP_OK));
    }

    /**
     * The capture that today's page was asked for to be held against, and what came of it.
     *
     * @return array{against: Capture|null, today: Capture|null, difference: float|null, capture: Capture|null}
     */
    private function against(CaptureJob $job, Request $request): array
    {
        $against = $this->captures->byCode($request->query->getString('against'));
        $capture = null === $job->captureCode ? null : $this->captures->byCode($job->captureCode);
        $today = null === $against ? null : $capture;

        return ['capture' => $capture, 'against' => $against, 'today' => $today, 'difference' => null === $against || null === $today ? null : $this->meter->difference($against, $today)];
    }

    private function found(string $code): CaptureJob
    {
        return $this->jobs->byCode($code) ?? throw $this->createNotFoundException('There is no such capture job.');
    }
}
