<?php

declare(strict_types=1);

namespace Ypomna\App\Compare\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Compare\Fingerprints;
use Ypomna\App\Compare\HostMatch;
use Ypomna\App\Compare\LifelineDrawing;
use Ypomna\App\Compare\LifelineRepository;
use Ypomna\App\Compare\Value\LifelineView;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\InvalidAddress;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Compare\Lifeline;
use Ypomna\Core\Compare\SharedText;
use Ypomna\Core\Warc\WarcError;

/** Many captures at once: when each passage of a page appeared, changed and went; and where its text stands elsewhere. */
#[Allow(Right::Read)]
final class LifelineController extends AbstractController
{
    public function __construct(
        private readonly CaptureRepository $captures,
        private readonly LifelineRepository $lifelines,
        private readonly Fingerprints $fingerprints,
        private readonly CaptureContent $content,
    ) {
    }

    #[Route(
        '/address/{code}/lifelines',
        name: 'lifelines',
        requirements: ['code' => Codes::PATTERN],
        defaults: FetchMetadataGuard::ACTS,
        methods: ['GET'],
    )]
    public function lines(Viewer $viewer, Address $address, Request $request): Response
    {
        $view = LifelineView::fromQuery(
            $request->query->getString('word'),
            $request->query->getString('order'),
            $request->query->getString('show'),
            $request->query->getString('day'),
            $request->query->getInt('page', 1),
        );
        [$lines, $missing] = $this->lifelines->of($address);
        if (null === $lines || $missing > 0) {
            return $this->render(
                'compare/lifelines_wait.html.twig',
                ['address' => $address, 'missing' => $missing, 'drawn' => \count($lines?->captures() ?? [])],
                new Response('', Response::HTTP_OK, 0 === $missing ? [] : ['Refresh' => '3']),
            );
        }
        $codes = [];
        foreach ($this->captures->codes($viewer, array_column($lines->captures(), 'id')) as $id => $one) {
            $codes[$id] = $one;
        }

        return $this->render(
            'compare/lifelines.html.twig',
            ['address' => $address, 'view' => $view, 'drawing' => new LifelineDrawing($lines, $view, $codes)],
        );
    }

    /** One line with all its wordings, in which the words that changed are marked. */
    #[Route(
        '/address/{code}/lifelines/{number}',
        name: 'lifeline',
        requirements: ['code' => Codes::PATTERN, 'number' => '\d{1,6}'],
        defaults: FetchMetadataGuard::ACTS,
        methods: ['GET'],
    )]
    public function line(Viewer $viewer, Address $address, int $number): Response
    {
        [$lines, $missing] = $this->lifelines->of($address);
        $line = 0 === $missing && null !== $lines ? ($lines->byPlace()[$number] ?? null) : null;
        if (!$line instanceof Lifeline || null === $lines) {
            throw $this->createNotFoundException('There is no such line; the lifelines may have been drawn anew.');
        }

        return $this->render(
            'compare/lifeline.html.twig',
            [
                'address' => $address,
                'line' => $line,
                'captures' => $lines->captures(),
                'codes' => $this->captures->codes($viewer, array_column($lines->captures(), 'id')),
                'number' => $number,
            ],
        );
    }

    #[Route(
        '/c/{code}/similar',
        name: 'similar',
        requirements: ['code' => Codes::PATTERN],
        defaults: FetchMetadataGuard::ACTS,
        methods: ['GET'],
    )]
    public function similar(Viewer $viewer, Capture $capture, Request $request): Response
    {
        $other = 1 === preg_match('/^'.Codes::PATTERN.'$/D', $request->query->getString('with'))
            ? $this->captures->byCode($viewer, $request->query->getString('with'))
            : null;
        try {
            $shared = null === $other
                ? null
                : SharedText::of($this->content->document($capture)->passages, $this->content->document($other)->passages);
        } catch (WarcError $e) {
            return $this->render(
                'compare/unreadable.html.twig',
                ['old' => $capture, 'new' => $capture, 'why' => $e->getMessage()],
                new Response('', Response::HTTP_CONFLICT),
            );
        }

        return $this->render(
            'compare/similar.html.twig',
            [
                'capture' => $capture, 'found' => $this->fingerprints->like($viewer, $capture), 'unread' => $this->fingerprints->missing(),
                'other' => $other, 'shared' => $shared,
            ],
        );
    }

    /** A site that moved: the pages of two hosts matched by what they say. */
    #[Route('/hosts/matched', name: 'hosts_matched', defaults: FetchMetadataGuard::ACTS, methods: ['GET'])]
    public function hosts(Viewer $viewer, Request $request, HostMatch $match): Response
    {
        [$one, $other] = [trim($request->query->getString('one')), trim($request->query->getString('other'))];
        $pages = null;
        $problem = '';
        if ('' !== $one.$other) {
            try {
                $pages = $match->of($viewer, Url::typed($one), Url::typed($other));
            } catch (InvalidAddress $e) {
                $problem = $e->getMessage();
            }
        }

        return $this->render(
            'compare/hosts.html.twig',
            ['one' => $one, 'other' => $other, 'pages' => $pages, 'problem' => $problem, 'unread' => $this->fingerprints->missing()],
            new Response('', '' === $problem ? Response::HTTP_OK : Response::HTTP_UNPROCESSABLE_ENTITY),
        );
    }
}
