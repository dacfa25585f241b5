<?php

declare(strict_types=1);

namespace Ypomna\App\Replay\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\StreamedResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\InPublic;
use Ypomna\App\Access\Right;
use Ypomna\App\Catalogue\AddressHistory;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Value\CaptureLine;
use Ypomna\App\Catalogue\Value\CaptureMark;
use Ypomna\App\Catalogue\WarcScan;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Replay\Mementos;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\InvalidAddress;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\Body;
use Ypomna\Core\Http\HttpDate;
use Ypomna\Core\Http\TooLarge;
use Ypomna\Core\Http\UnsupportedCoding;
use Ypomna\Core\Warc\WarcError;

/** The standard protocol for the past of an address (RFC 7089): TimeGate, TimeMap, and captures as they were received. */
#[Allow(Right::Read)]
#[InPublic]
final class MementoController extends AbstractController
{
    public function __construct(
        private readonly AddressRepository $addresses,
        private readonly CaptureRepository $captures,
        private readonly AddressHistory $history,
        private readonly Mementos $mementos,
    ) {
    }

    /** Leads to the capture nearest to the moment that Accept-Datetime gives; without it to the latest (section 4.5.3). */
    #[Route(
        '/timegate/{url}', name: 'timegate', requirements: ['url' => '.+'], defaults: FetchMetadataGuard::OPEN, methods: ['GET', 'HEAD'],
    )]
    public function timeGate(Viewer $viewer, Request $request): Response
    {
        $url = $this->asked($request, '#^/timegate/#');
        $wanted = $request->headers->get('Accept-Datetime');
        $moment = null === $wanted ? null : HttpDate::parse($wanted);
        if (null === $url || (null !== $wanted && null === $moment)) {
            return $this->plain(
                Response::HTTP_BAD_REQUEST,
                null === $url
                    ? 'What stands behind /timegate/ is not a web address.'
                    : 'Accept-Datetime is not a date of the form “Sun, 03 Nov 2024 10:00:00 GMT”.',
            );
        }
        $address = $this->addresses->of($viewer, (string) $url);
        $capture = null === $moment
            ? (null === $address ? null : $this->captures->last($viewer, $address))
            : $this->captures->nearest($viewer, (string) $url, $moment);
        if (null === $address || null === $capture) {
            return $this->plain(Response::HTTP_NOT_FOUND, 'This address was never captured here.');
        }
        $response = new Response('', Response::HTTP_FOUND, ['Location' => $this->mementos->raw($capture), 'Vary' => 'Accept-Datetime']);
        $links = $this->mementos->ofAddress((string) $url);
        foreach ([
            'first' => $this->captures->first($viewer, $address), 'last' => $this->captures->last($viewer, $address),
        ] as $relation => $other) {
            if (null !== $other) {
                $links[] = $this->mementos->link($other, $relation.' memento');
            }
        }
        $response->headers->set('Link', implode(', ', $links));

        return $response;
    }

    /** All captures of an address, page by page, newest first (section 5). */
    #[Route(
        '/timemap/{form}/from/{mark}/{url}',
        name: 'timemap_from',
        requirements: ['form' => 'link|json', 'mark' => '[0-9A-Za-z.:_-]{3,60}', 'url' => '.+'],
        defaults: FetchMetadataGuard::OPEN,
        methods: ['GET', 'HEAD'],
        priority: 2,
    )]
    #[Route(
        '/timemap/{form}/{url}',
        name: 'timemap',
        requirements: ['form' => 'link|json', 'url' => '.+'],
        defaults: FetchMetadataGuard::OPEN,
        methods: ['GET', 'HEAD'],
    )]
    public function timeMap(Viewer $viewer, Request $request, string $form, string $mark = ''): Response
    {
        $url = $this->asked($request, '#^/timemap/(?:link|json)/(?:from/[^/]*/)?#');
        $address = null === $url ? null : $this->addresses->of($viewer, (string) $url);
        $before = '' === $mark ? null : CaptureMark::parse($mark);
        if (null === $url || ('' !== $mark && null === $before)) {
            return $this->plain(
                Response::HTTP_BAD_REQUEST, 'What stands behind /timemap/ is not a web address, or no page of its list.',
            );
        }
        if (null === $address) {
            return $this->plain(Response::HTTP_NOT_FOUND, 'This address was never captured here.');
        }
        $lines = $this->history->lines($viewer, $address, $before);
        $last = [] === $lines ? null : $lines[\count($lines) - 1];
        $next = AddressHistory::PAGE === \count($lines) && null !== $last
            ? $this->mementos->timeMap((string) $url, $form, $last->mark())
            : null;
        $self = $this->mementos->timeMap((string) $url, $form, $mark);

        return 'json' === $form
            ? $this->json($this->asJson($url, $self, $next, $lines))
            : new Response($this->asLinks($url, $self, $next, $lines), Response::HTTP_OK, ['Content-Type' => 'application/link-format']);
    }

    /**
     * A capture as it was received, nothing rewritten: for other programs. Shown in a browser it is shut in: it runs nothing and asks for
     * nothing.
     */
    #[Route(
        '/c/{code}/raw',
        name: 'raw',
        requirements: ['code' => Codes::PATTERN],
        defaults: FetchMetadataGuard::OPEN,
        methods: ['GET', 'HEAD'],
    )]
    public function raw(Viewer $viewer, Capture $capture, CaptureContent $content): Response
    {
        try {
            $answer = $content->answer($capture->warcFile->path, $capture->responseOffset);
            $coded = false;
            try {
                $body = Body::decode($answer->body(), $answer->head?->fields->tokens('Content-Encoding') ?? []);
            } catch (UnsupportedCoding) {
                [$body, $coded] = [$answer->body(), true];
            }
        } catch (WarcError $e) {
            return $this->plain(Response::HTTP_BAD_GATEWAY, 'The capture cannot be read from its file: '.$e->getMessage());
        }
        $response = new StreamedResponse(static function () use ($body): void {
            try {
                foreach ($body as $piece) {
                    echo $piece;
                    flush();
                }
            } catch (WarcError|TooLarge) {
                // What could be read has been sent.
            }
        }, $capture->status >= 200 && $capture->status < 600 ? $capture->status : Response::HTTP_OK, [
            'Content-Type' => (null === $answer->head ? $answer->record->header->contentType() : $answer->head->fields->get('Content-Type'))
                ?? 'application/octet-stream',
            'Content-Security-Policy' => "sandbox; default-src 'none'", 'X-Content-Type-Options' => 'nosniff',
            'Cache-Control' => 'private, max-age=86400',
        ]);
        if ($coded) {
            $response->headers->set('Content-Encoding', implode(', ', $answer->head?->fields->tokens('Content-Encoding') ?? []));
        }
        $this->mementos->describe($viewer, $response->headers, $capture);

        return $response;
    }

    /** The capture of an address that lies nearest to a moment, at an address that stays. */
    #[Route(
        '/address/{code}/at/{moment}',
        name: 'address_at',
        requirements: ['code' => Codes::PATTERN, 'moment' => '[0-9T:Z.-]{4,30}'],
        methods: ['GET'],
    )]
    public function at(Viewer $viewer, Address $address, string $moment): Response
    {
        $at = WarcScan::moment($moment)
            ?? throw $this->createNotFoundException('That is not a moment of the form 2024-11-03 or 2024-11-03T10:00:00Z.');
        $capture = $this->captures->nearest($viewer, $address->url, $at)
            ?? throw $this->createNotFoundException('There is no capture of this address.');

        return $this->redirectToRoute('read', ['code' => $capture->code]);
    }

    /**
     * @param list<CaptureLine> $lines
     */
    private function asLinks(Url $url, string $self, ?string $next, array $lines): string
    {
        [$original, $gate] = $this->mementos->ofAddress((string) $url);
        $links = [$original, $gate, '<'.$self.'>; rel="self"; type="application/link-format"'.$this->span($lines)];
        foreach ($lines as $line) {
            $links[] = '<'.$this->generateUrl('raw', ['code' => $line->code], UrlGeneratorInterface::ABSOLUTE_URL)
                .'>; rel="memento"; datetime="'.Mementos::date($line->at).'"';
        }
        if (null !== $next) {
            $links[] = '<'.$next.'>; rel="timemap"; type="application/link-format"';
        }

        return implode(",\n", $links)."\n";
    }

    /**
     * @param list<CaptureLine> $lines
     *
     * @return array<string, mixed>
     */
    private function asJson(Url $url, string $self, ?string $next, array $lines): array
    {
        return [
            'original' => (string) $url, 'timegate' => $this->mementos->timeGate((string) $url), 'self' => $self, 'next' => $next,
            'mementos' => array_map(
                fn (CaptureLine $line): array => [
                    'datetime' => $line->at->format('Y-m-d\TH:i:s.u\Z'),
                    'raw' => $this->generateUrl('raw', ['code' => $line->code], UrlGeneratorInterface::ABSOLUTE_URL),
                    'read' => $this->generateUrl('read', ['code' => $line->code], UrlGeneratorInterface::ABSOLUTE_URL),
                    'status' => $line->status,
                    'takenIn' => $line->takenIn,
                ],
                $lines,
            ),
        ];
    }

    /**
     * @param list<CaptureLine> $lines
     */
    private function span(array $lines): string
    {
        return [] === $lines
            ? ''
            : '; from="'.Mementos::date($lines[\count($lines) - 1]->at).'"; until="'.Mementos::date($lines[0]->at).'"';
    }

    /** The address with its own query, as it stands in the request line. */
    private function asked(Request $request, string $prefix): ?Url
    {
        $target = (string) preg_replace($prefix, '', $request->getRequestUri());
        try {
            $url = Url::typed($target);

            return $url->withoutFragment();
        } catch (InvalidAddress) {
            return null;
        }
    }

    private function plain(int $status, string $text): Response
    {
        return new Response($text."\n", $status, ['Content-Type' => 'text/plain; charset=utf-8']);
    }
}
