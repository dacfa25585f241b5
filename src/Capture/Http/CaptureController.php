<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Capture\CaptureDescriptions;
use Ypomna\App\Capture\CaptureForm;
use Ypomna\App\Capture\CaptureRequests;
use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Capture\InvalidRequest;
use Ypomna\App\Capture\JobList;
use Ypomna\App\Capture\RememberedChoices;
use Ypomna\App\Capture\Value\CaptureDescription;
use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\HeldAddresses;
use Ypomna\App\Compare\ChangeMeter;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\ChosenDossier;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\InvalidAddress;

/** Asking for a page to be kept, and watching it happen. */
#[Allow(Right::Read)]
final class CaptureController extends AbstractController
{
    /** Tells htmx to stop asking. */
    private const STOP_POLLING = 286;

    public function __construct(
        private readonly JobList $jobs,
        private readonly CaptureRepository $captures,
        private readonly ChangeMeter $meter,
        private readonly CaptureDescriptions $descriptions,
        private readonly HeldAddresses $held,
    ) {
    }

    #[Allow(Right::Keep)]
    #[Route('/captures', name: 'capture_begin', methods: ['POST'])]
    #[IsCsrfTokenValid('capture')]
    public function keep(
        Actor $actor,
        Viewer $viewer,
        Request $request,
        CaptureRequests $requests,
        RememberedChoices $choices,
        ChosenDossier $dossiers,
    ): Response {
        $typed = $request->request->getString('q');
        try {
            $fields = self::fields($request);
            if ('' !== $fields['dossier'] && !$dossiers->mayLayInto($viewer, $fields['dossier'])) {
                throw new InvalidRequest('desk.no_such_dossier');
            }
            $job = $requests->ask(
                $actor, $typed, CaptureForm::read($fields), '1' === $fields['confidential'],
                '' === $fields['dossier'] ? null : $fields['dossier'],
            );
            if ('1' === $request->request->getString('chosen')) {
                $choices->remember($actor, CaptureForm::remembered($fields));
            }
        } catch (InvalidRequest $e) {
            return $this->render(
                'capture/ask.html.twig',
                ['typed' => $typed, 'chosen' => self::fields($request), 'why' => $e],
                new Response('', Response::HTTP_UNPROCESSABLE_ENTITY),
            );
        } catch (InvalidAddress $e) {
            return $this->render(
                'catalogue/no_address.html.twig',
                ['typed' => $typed, 'why' => $e->getMessage()],
                new Response('', Response::HTTP_UNPROCESSABLE_ENTITY),
            );
        }

        $against = $request->request->getString('against');

        return $this->redirectToRoute(
            'capture_job',
            ['code' => $job->code] + (1 === preg_match('/^'.Codes::PATTERN.'$/D', $against) ? ['against' => $against] : []),
            Response::HTTP_SEE_OTHER,
        );
    }

    /**
     * @return array<string, string>
     */
    private static function fields(Request $request): array
    {
        $fields = [];
        foreach ([
            'how', 'phone', 'without_scripts', 'without_scrolling', 'extent', 'part', 'wait', 'language', 'agent', 'fields',
            'fields_everywhere', 'cookies', 'confidential', 'dossier',
        ] as $name) {
            $fields[$name] = $request->request->getString($name);
        }
        $file = $request->files->get('cookie_file');
        if ($file instanceof UploadedFile && $file->isValid() && $file->getSize() <= 262_144) {
            $fields['cookies'] = (string) file_get_contents($file->getPathname());
        }

        return $fields;
    }

    /** What somebody writes beside a capture, while it is being made or later. */
    #[Allow(Right::Keep)]
    #[Route('/captures/{code}/description', name: 'capture_description', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    #[IsCsrfTokenValid('description')]
    public function describe(Actor $actor, Viewer $viewer, string $code, Request $request): Response
    {
        $job = $this->found($viewer, $code);
        $description = CaptureDescription::typed(
            $request->request->getString('title'), $request->request->getString('why'), $request->request->getString('tags'),
        );
        $this->descriptions->write($actor, $job, $description);

        return null === $request->headers->get('HX-Request')
            ? $this->redirectToRoute('capture_job', ['code' => $code], Response::HTTP_SEE_OTHER)
            : $this->render('capture/_description.html.twig', [
                'job' => $job, 'description' => $description, 'tags' => $this->descriptions->known($viewer), 'written' => true,
            ]);
    }

    /** Captures that somebody gave a tag. */
    #[Route('/tagged/{tag}', name: 'tagged', methods: ['GET'])]
    public function tagged(Viewer $viewer, string $tag, Request $request): Response
    {
        return $this->render(
            'capture/tagged.html.twig',
            ['tag' => $tag, 'captures' => $this->descriptions->tagged($viewer, $tag, max(0, $request->query->getInt('before')))],
        );
    }

    /** Tries again to get what a capture lacks. */
    #[Allow(Right::Keep)]
    #[Route('/c/{code}/complete', name: 'capture_complete', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    #[IsCsrfTokenValid('capture')]
    public function complete(Actor $actor, Capture $capture, Request $request, CaptureRequests $requests): Response
    {
        return $this->redirectToRoute('capture_job', ['code' => $requests->complete($actor, $capture)->code], Response::HTTP_SEE_OTHER);
    }

    #[Route('/captures', name: 'captures', methods: ['GET'])]
    public function list(Viewer $viewer, CaptureLists $lists): Response
    {
        $ended = $this->jobs->ended($viewer);
        $codes = array_values(array_filter(
            array_map(static fn (CaptureJob $job): ?string => $job->captureCode, $ended), \is_string(...),
        ));

        return $this->render(
            'capture/list.html.twig',
            ['open' => $this->jobs->open($viewer), 'ended' => $ended, 'facts' => $lists->facts($viewer, $codes)],
        );
    }

    #[Route('/captures/{code}', name: 'capture_job', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function job(Viewer $viewer, string $code, Request $request): Response
    {
        $job = $this->found($viewer, $code);

        return $this->render(
            'capture/job.html.twig',
            [
                'job' => $job, 'description' => $this->descriptions->ofJob($job), 'tags' => $this->descriptions->known($viewer),
            ] + $this->against($viewer, $job, $request),
        );
    }

    /** The changing part of a job's page. */
    #[Route('/captures/{code}/progress', name: 'capture_progress', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function progress(Viewer $viewer, string $code, Request $request): Response
    {
        $job = $this->found($viewer, $code);

        return $this->render(
            'capture/_progress.html.twig',
            ['job' => $job] + $this->against($viewer, $job, $request),
            new Response('', $job->stage->isFinal() ? self::STOP_POLLING : Response::HTTP_OK),
        );
    }

    /**
     * The capture that today's page was asked for to be held against, and what came of it.
     *
     * @return array{
     *     against: Capture|null, today: Capture|null, difference: float|null, capture: Capture|null,
     *     held: array{code: string, captures: int, lastAt: \DateTimeImmutable}|null, before: Capture|null,
     * }
     */
    private function against(Viewer $viewer, CaptureJob $job, Request $request): array
    {
        $against = $this->captures->byCode($viewer, $request->query->getString('against'));
        $capture = null === $job->captureCode ? null : $this->captures->byCode($viewer, $job->captureCode);
        $today = null === $against ? null : $capture;

        return [
            'held' => $this->held->of($viewer, [$job->url])[$job->url] ?? null,
            'before' => null === $capture ? null : $this->captures->earlier($viewer, $capture),
            'capture' => $capture,
            'against' => $against,
            'today' => $today,
            'difference' => null === $against || null === $today ? null : $this->meter->difference($against, $today),
        ];
    }

    private function found(Viewer $viewer, string $code): CaptureJob
    {
        return $this->jobs->byCode($viewer, $code) ?? throw $this->createNotFoundException('There is no such capture job.');
    }
}
