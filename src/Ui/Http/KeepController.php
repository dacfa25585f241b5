<?php

declare(strict_types=1);

namespace Ypomna\App\Ui\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\HttpFoundation\BinaryFileResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\OpenToAnybody;
use Ypomna\App\Access\Right;
use Ypomna\App\Capture\CaptureDescriptions;
use Ypomna\App\Capture\CaptureForm;
use Ypomna\App\Capture\CaptureRequests;
use Ypomna\App\Capture\InvalidRequest;
use Ypomna\App\Capture\Value\CaptureDescription;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Desk\Items;
use Ypomna\App\Desk\Value\ItemChange;
use Ypomna\App\Desk\Value\ItemKind;
use Ypomna\App\Desk\Value\ItemSubject;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\ChosenDossier;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Ui\SharedPage;
use Ypomna\Core\Address\InvalidAddress;

/** Where a page is kept that somebody comes with: from a bookmark, from the menu of a telephone, from a program. */
final class KeepController extends AbstractController
{
    public function __construct(private readonly AddressRepository $addresses)
    {
    }

    #[Allow(Right::Keep)]
    #[Route('/keep', name: 'keep', methods: ['GET'])]
    public function ask(Viewer $viewer, Request $request): Response
    {
        $shared = SharedPage::of($request->query);

        return null === $shared->url && [] === $request->query->all()
            ? $this->redirectToRoute('first') : $this->page($viewer, $shared, null);
    }

    /** By one act: the page for the server, what is said of it, and what was selected on it. */
    #[Allow(Right::Keep)]
    #[Route('/keep', name: 'keep_begin', methods: ['POST'])]
    #[IsCsrfTokenValid('capture')]
    public function keep(
        Actor $actor,
        Viewer $viewer,
        Request $request,
        CaptureRequests $requests,
        CaptureDescriptions $descriptions,
        ChosenDossier $dossiers,
        Items $items,
    ): Response {
        $form = $request->request;
        $shared = SharedPage::of($form);
        if (null === $shared->url) {
            return $this->page($viewer, $shared, null);
        }
        $extent = match ($form->getString('as')) {
            'text' => 'text', 'reference' => 'address', default => 'whole',
        };
        $dossier = $form->getString('dossier');
        $due = \DateTimeImmutable::createFromFormat('!Y-m-d', $form->getString('due'), new \DateTimeZone('UTC'));
        try {
            if ('' !== $dossier && !$dossiers->mayLayInto($viewer, $dossier)) {
                throw new InvalidRequest('desk.no_such_dossier');
            }
            $job = $requests->ask(
                $actor, $shared->url, CaptureForm::read(['extent' => $extent]), '1' === $form->getString('confidential'),
                '' === $dossier ? null : $dossier, false === $due ? null : $due,
            );
        } catch (InvalidRequest $e) {
            return $this->page($viewer, $shared, $e);
        } catch (InvalidAddress $e) {
            return $this->render('catalogue/no_address.html.twig', ['typed' => $shared->url, 'why' => $e->getMessage()],
                new Response('', 422));
        }
        $description = CaptureDescription::typed('', $form->getString('why'), $form->getString('tags'));
        if (!$description->isEmpty()) {
            $descriptions->write($actor, $job, $description);
        }
        if ('' !== $shared->words && '1' === $form->getString('excerpt')) {
            $items->make($actor, $viewer, ItemKind::Excerpt, new ItemSubject(null, $shared->url), new ItemChange(
                $shared->title, note: '> '.str_replace("\n", "\n> ", $shared->words),
                confidential: '1' === $form->getString('confidential'),
                addDossiers: '' === $dossier ? [] : [$dossier],
            ));
        }

        return $this->redirectToRoute('capture_job', ['code' => $job->code], Response::HTTP_SEE_OTHER);
    }

    /** So that it can be laid on a telephone's first screen, and stands in its menu for sharing (Web Application Manifest). */
    #[OpenToAnybody]
    #[Route('/manifest.webmanifest', name: 'web_manifest', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function manifest(): Response
    {
        $icon = static fn (int $size): array => [
            'src' => "/build/icon-{$size}.png", 'sizes' => "{$size}x{$size}", 'type' => 'image/png', 'purpose' => 'any maskable',
        ];

        return $this->json([
            'id' => '/', 'name' => 'Ypomna', 'short_name' => 'Ypomna', 'start_url' => '/', 'scope' => '/', 'display' => 'minimal-ui',
            'background_color' => '#f4ede0', 'theme_color' => '#f4ede0', 'icons' => [$icon(192), $icon(512)],
            'share_target' => [
                'action' => $this->generateUrl('keep'), 'method' => 'GET',
                'params' => ['title' => 'title', 'text' => 'text', 'url' => 'url'],
            ],
        ], headers: ['Content-Type' => 'application/manifest+json', 'Cache-Control' => 'public, max-age=86400']);
    }

    /** It answers for this origin alone; hosts of archived pages have none. */
    #[OpenToAnybody]
    #[Route('/service-worker.js', name: 'service_worker', methods: ['GET'])]
    public function worker(#[Autowire('%kernel.project_dir%/public/build/service-worker.js')] string $file): Response
    {
        return new BinaryFileResponse($file, Response::HTTP_OK, [
            'Content-Type' => 'text/javascript; charset=utf-8', 'Cache-Control' => 'no-cache',
        ], false);
    }

    /** What is shown while there is no network; what was shared meanwhile waits in the browser. */
    #[OpenToAnybody]
    #[Route('/offline', name: 'offline', methods: ['GET'])]
    public function offline(): Response
    {
        return $this->render('ui/offline.html.twig');
    }

    private function page(Viewer $viewer, SharedPage $shared, ?InvalidRequest $why): Response
    {
        $address = null === $shared->url ? null : $this->addresses->of($viewer, $shared->url);

        return $this->render('ui/keep.html.twig', ['shared' => $shared, 'address' => $address, 'why' => $why],
            new Response('', null === $why && null !== $shared->url ? Response::HTTP_OK : Response::HTTP_UNPROCESSABLE_ENTITY));
    }
}
