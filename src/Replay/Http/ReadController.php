<?php

declare(strict_types=1);

namespace Ypomna\App\Replay\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\InPublic;
use Ypomna\App\Access\Right;
use Ypomna\App\Catalogue\CaptureParts;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Value\ReadCapture;
use Ypomna\App\Replay\CaptureLinks;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Replay\Mementos;
use Ypomna\App\Replay\PageHosts;
use Ypomna\App\Replay\ReadingProof;
use Ypomna\App\Replay\ReadingRights;
use Ypomna\App\Replay\ReplayMode;
use Ypomna\App\Replay\StillPage;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\PublicUrl;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;

/** A capture at its permanent address: our window around the walled-in page. */
#[Allow(Right::Read)]
#[InPublic]
final class ReadController extends AbstractController
{
    public function __construct(
        private readonly CaptureRepository $captures,
        private readonly PageHosts $hosts,
        private readonly ReadingRights $rights,
        private readonly Mementos $mementos,
        private readonly ReadingProof $proof,
        private readonly PublicUrl $public,
    ) {
    }

    #[Route('/c/{code}', name: 'read', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function read(Viewer $viewer, Capture $capture, Request $request): Response
    {
        $mode = $this->mode($request);
        $links = new CaptureLinks(
            $this->hosts, $this->rights->label($viewer, $capture->code), $mode, $this->public->scheme,
            $this->public->portPart(),
            '' !== $request->query->getString('only'),
        );

        $shown = ['mode' => $mode, 'frame' => $links->place(self::placeOn($capture))];
        $response = $this->render('replay/read.html.twig', $shown + $this->around($viewer, $capture));
        $this->mementos->describe($viewer, $response->headers, $capture);

        return $response;
    }

    /** A capture to be shown in a page of somebody else: the walled-in page with its moment, and no more. */
    #[Route(
        '/c/{code}/embed', name: 'embed', requirements: ['code' => Codes::PATTERN], defaults: FetchMetadataGuard::OPEN, methods: ['GET'],
    )]
    public function embed(Viewer $viewer, Capture $capture, StillPage $page): Response
    {
        return $this->render('replay/embed.html.twig', ['capture' => $capture, 'frame' => $page->of($viewer, $capture)]);
    }

    /**
     * The part of the window that tells which moment is read; asked for anew when a link in the page leads to another. It is
     * given only for what is read indeed: a page that says it is another one cannot prove it.
     */
    #[Route('/c/{code}/bar', name: 'read_bar', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function bar(Viewer $viewer, Capture $capture, Request $request): Response
    {
        if (!$this->proof->holds($capture->code, $request->query->getString('proof'))) {
            throw $this->createAccessDeniedException('What is read is told by our script in the page alone.');
        }

        return $this->render('replay/_bar.html.twig', ['mode' => $this->mode($request)] + $this->around($viewer, $capture));
    }

    /** The addresses that a capture asks for and that nobody has: these may be offered to be kept, whatever the page reports. */
    #[Route('/c/{code}/missing', name: 'read_missing', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function missing(Viewer $viewer, Capture $capture, CaptureParts $parts): Response
    {
        return $this->json(['missing' => $parts->missing(ReadCapture::of($viewer, $capture), $capture->completeness['gaps'] ?? [])]);
    }

    /**
     * Scripts run only in browsers that know the whole wall (the connection allow-list, Chromium's so far); elsewhere the
     * page is read as its rendered document.
     */
    private function mode(Request $request): ReplayMode
    {
        $wanted = ReplayMode::tryFrom($request->query->getString('mode'));

        return $wanted
            ?? ReplayMode::forBrowser((string) $request->headers->get('Sec-CH-UA'), (string) $request->headers->get('User-Agent'));
    }

    /** The page, at the place that was asked for with it. */
    private static function placeOn(Capture $capture): Url
    {
        return Url::parse($capture->url.(null === $capture->fragment ? '' : '#'.$capture->fragment));
    }

    /**
     * @return array<string, mixed>
     */
    private function around(Viewer $viewer, Capture $capture): array
    {
        return [
            'capture' => $capture, 'proof' => $this->proof->of($capture->code), 'earlier' => $this->captures->earlier($viewer, $capture),
            'later' => $this->captures->later($viewer, $capture),
            'first' => $this->captures->first($viewer, $capture->address), 'last' => $this->captures->last($viewer, $capture->address),
        ];
    }
}
