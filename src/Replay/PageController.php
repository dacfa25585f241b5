<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\StreamedResponse;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Contracts\Translation\TranslatorInterface;
use Twig\Environment;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\CaptureFinder;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Custody\Store;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\Body;
use Ypomna\Core\Http\Charset;
use Ypomna\Core\Http\UnsupportedCoding;
use Ypomna\Core\Replay\CssRewriter;
use Ypomna\Core\Replay\HtmlRewriter;
use Ypomna\Core\Replay\ReferenceMapper;
use Ypomna\Core\Warc\HttpRecord;
use Ypomna\Core\Warc\Reader;
use Ypomna\Core\Warc\WarcError;

/**
 * Answers for archived pages, on their hosts: with what was kept, rewritten so that it leads to what was kept, and never
 * with anything from today.
 */
#[AsController]
final readonly class PageController
{
    /** Pages and style sheets are rewritten up to here, in bytes; what lies beyond is passed on as it is, behind the same wall. */
    private const MAX_REWRITTEN = 12_582_912;

    public function __construct(
        private PageHosts $hosts,
        private RecordFinder $records,
        private CaptureFinder $captures,
        private CaptureContent $content,
        private Store $store,
        private Environment $twig,
        private TranslatorInterface $translator,
        #[Autowire('%kernel.project_dir%/assets/replay-shim.js')] private string $shim,
    ) {
    }

    public function __invoke(Request $request): Response
    {
        $port = null === $request->getPort() || \in_array((int) $request->getPort(), [80, 443], true) ? '' : ':'.$request->getPort();
        $nonce = bin2hex(random_bytes(12));
        $asked = $this->hosts->read($request->getHost(), $request->getRequestUri());
        $capture = null === $asked ? null : $this->captures->byCode($asked->code);
        $response = match (true) {
            null !== $request->headers->get('Service-Worker') => new Response('', Response::HTTP_FORBIDDEN),
            !\in_array($request->getMethod(), ['GET', 'HEAD', 'POST'], true) => new Response('', Response::HTTP_METHOD_NOT_ALLOWED),
            null === $asked, null === $capture => new Response("There is no such capture.\n", Response::HTTP_NOT_FOUND, ['Content-Type' => 'text/plain; charset=utf-8']),
            default => $this->answer($request, $asked, $capture, $port, $nonce),
        };
        $response->headers->remove('Set-Cookie');
        Wall::raise($response->headers, $asked->mode ?? ReplayMode::Still, $this->hosts->everyPage($request->getScheme(), $port), $this->hosts->window($request->getScheme(), $port), $nonce);

        return $response;
    }

    private function answer(Request $request, PageRequest $asked, Capture $capture, string $port, string $nonce): Response
    {
        $links = new CaptureLinks($this->hosts, $asked->code, $asked->mode, $request->getScheme(), $port);
        $opensDocument = \in_array($request->headers->get('Sec-Fetch-Dest', 'document'), ['document', 'iframe', 'frame'], true);
        $place = $this->records->find($asked->spelled, (int) $capture->warcFile->id, $capture->capturedAt, 'POST' === $request->getMethod() ? 'POST' : 'GET');
        if ($opensDocument && $place?->fileId !== $capture->warcFile->id) {
            // A page of its own is read as of its own capture, with its own parts.
            $nearest = $this->captures->nearest($asked->spelled, $capture->capturedAt);
            if (null !== $nearest && $nearest->code !== $asked->code) {
                $own = new CaptureLinks($this->hosts, $nearest->code, $asked->mode, $request->getScheme(), $port);

                return new Response('', Response::HTTP_FOUND, ['Location' => $own->map(Url::parse($nearest->url))]);
            }
        }
        if (null === $place) {
            return $this->notKept($asked, $capture, $opensDocument, $nonce);
        }
        try {
            $response = $this->serve($request, $asked, $capture, $place, $links, $opensDocument, $nonce);
            if ($place->fileId !== $capture->warcFile->id) {
                $response->headers->set('Server-Timing', 'from;desc="'.$place->at->format('Y-m-d\TH:i:s.v\Z').'"');
            }

            return $response;
        } catch (WarcError $e) {
            return new Response('This part cannot be read from its file: '.$e->getMessage()."\n", Response::HTTP_BAD_GATEWAY, ['Content-Type' => 'text/plain; charset=utf-8']);
        }
    }

    private function serve(Request $request, PageRequest $asked, Capture $capture, RecordPlace $place, CaptureLinks $links, bool $opensDocument, string $nonce): Response
    {
        $isPage = $place->fileId === $capture->warcFile->id && $place->offset === $capture->responseOffset;
        $record = $this->content->answer($place->path, $place->offset);
        $location = $record->head?->fields->get('Location');
        if ($place->status >= 300 && $place->status < 400 && null !== $location) {
            $target = Url::tryParse($location, Url::tryParse($place->url));

            return null === $target || !$target->isWeb() ? new Response('', Response::HTTP_NOT_FOUND) : new Response('', $place->status, ['Location' => $links->map($target)]);
        }
        $base = Url::tryParse($place->url) ?? $asked->url;
        $mapper = new ReferenceMapper($links, $base);
        $headers = ['Content-Type' => $record->head?->fields->get('Content-Type') ?? $record->record->header->contentType()] + [
            'Content-Language' => $record->head?->fields->get('Content-Language'), 'Last-Modified' => $record->head?->fields->get('Last-Modified'),
        ];
        $mime = $record->mime() ?? '';
        $status = \in_array($place->status, [206, 304], true) ? 200 : $place->status;
        $inject = $opensDocument ? $this->injection($asked, $capture, $base, $nonce) : '';
        if (ReplayMode::Still === $asked->mode && $isPage && null !== $capture->domOffset) {
            $block = Reader::at($this->store->path($place->path), $capture->domOffset)->block();

            return $this->html($block, 'text/html; charset=utf-8', $status, $headers, $mapper, $inject);
        }
        try {
            $body = Body::decode($record->body(), $record->head?->fields->tokens('Content-Encoding') ?? []);
        } catch (UnsupportedCoding) {
            return $this->stream($request, $record, $record->body(), $status, $headers + ['Content-Encoding' => implode(', ', $record->head?->fields->tokens('Content-Encoding') ?? [])]);
        }
        if (\in_array($mime, ['text/html', 'application/xhtml+xml'], true)) {
            return $this->html($body, (string) $headers['Content-Type'], $status, $headers, $mapper, $inject);
        }
        if ('text/css' === $mime) {
            return $this->css($body, $status, $headers, $mapper);
        }

        return $this->stream($request, $record, $body, $status, $headers);
    }

    /**
     * @param iterable<string>           $body
     * @param array<string, string|null> $headers
     */
    private function html(iterable $body, string $contentType, int $status, array $headers, ReferenceMapper $mapper, string $inject): Response
    {
        [$bytes, $rest] = $this->firstPart($body);
        $html = Charset::toUtf8($bytes, Charset::detect($bytes, $contentType));
        $type = str_starts_with($contentType, 'application/xhtml') ? 'application/xhtml+xml' : 'text/html';

        return $this->streamed($status, ['Content-Type' => $type.'; charset=utf-8'] + $headers, (new HtmlRewriter($mapper, $inject))->rewrite($html), $rest);
    }

    /**
     * @param iterable<string>           $body
     * @param array<string, string|null> $headers
     */
    private function css(iterable $body, int $status, array $headers, ReferenceMapper $mapper): Response
    {
        [$bytes, $rest] = $this->firstPart($body);
        $declared = 1 === preg_match('/^@charset "([^"]+)"/', $bytes, $m) ? 'charset='.$m[1] : (string) ($headers['Content-Type'] ?? '');
        $css = Charset::toUtf8($bytes, Charset::detect($bytes, $declared));

        return $this->streamed($status, ['Content-Type' => 'text/css; charset=utf-8'] + $headers, (new CssRewriter($mapper))->rewrite($css), $rest);
    }

    /**
     * Passes a body on in pieces; a range of it where a player asks for one and its length is known.
     *
     * @param iterable<string>           $body
     * @param array<string, string|null> $headers
     */
    private function stream(Request $request, HttpRecord $record, iterable $body, int $status, array $headers): Response
    {
        $length = $record->head?->contentLength();
        $plain = null !== $length && [] === $record->head->fields->tokens('Content-Encoding') && 200 === $status;
        if (!$plain || 1 !== preg_match('/^bytes=(\d+)-(\d*)$/', (string) $request->headers->get('Range'), $m)) {
            $headers += $plain ? ['Content-Length' => (string) $length, 'Accept-Ranges' => 'bytes'] : [];

            return $this->streamed($status, $headers, '', $body);
        }
        $from = (int) $m[1];
        $to = min('' === $m[2] ? $length - 1 : (int) $m[2], $length - 1);
        if ($from > $to) {
            return new Response('', Response::HTTP_REQUESTED_RANGE_NOT_SATISFIABLE, ['Content-Range' => 'bytes */'.$length]);
        }
        $headers += ['Content-Range' => "bytes {$from}-{$to}/{$length}", 'Content-Length' => (string) ($to - $from + 1), 'Accept-Ranges' => 'bytes'];

        return $this->streamed(Response::HTTP_PARTIAL_CONTENT, $headers, '', self::section($body, $from, $to - $from + 1));
    }

    /**
     * @param array<string, string|null> $headers
     * @param iterable<string>           $rest
     */
    private function streamed(int $status, array $headers, string $first, iterable $rest): Response
    {
        return new StreamedResponse(static function () use ($first, $rest): void {
            echo $first;
            try {
                foreach ($rest as $piece) {
                    echo $piece;
                    flush();
                }
            } catch (WarcError) {
                // The file is damaged from here on: what could be read has been sent.
            }
        }, $status >= 200 && $status < 600 ? $status : 200, array_filter($headers, static fn (?string $value): bool => null !== $value));
    }

    /**
     * @param iterable<string> $body
     *
     * @return array{string, iterable<string>} what is rewritten, and what lies beyond
     */
    private function firstPart(iterable $body): array
    {
        $body = (static function () use ($body): \Generator { yield from $body; })();
        $bytes = '';
        while ($body->valid() && \strlen($bytes) < self::MAX_REWRITTEN) {
            $bytes .= $body->current();
            $body->next();
        }
        $rest = (static function () use ($body): \Generator {
            for (; $body->valid(); $body->next()) {
                yield $body->current();
            }
        })();

        return [$bytes, $rest];
    }

    /**
     * @param iterable<string> $body
     *
     * @return \Generator<int, string>
     */
    private static function section(iterable $body, int $from, int $length): \Generator
    {
        foreach (Body::skip($body, $from) as $piece) {
            if ($length <= 0) {
                return;
            }
            yield substr($piece, 0, $length);
            $length -= \strlen($piece);
        }
    }

    private function notKept(PageRequest $asked, Capture $capture, bool $opensDocument, string $nonce): Response
    {
        if (!$opensDocument) {
            return new Response('', Response::HTTP_NOT_FOUND, ['Server-Timing' => 'gap']);
        }

        return new Response($this->twig->render('replay/not_kept.html.twig', [
            'url' => $asked->spelled, 'capture' => $capture, 'inject' => $this->injection($asked, $capture, $asked->url, $nonce),
        ]), Response::HTTP_NOT_FOUND);
    }

    /** Our script at the beginning of the page: tells the window what is being read, and answers for what the sandbox withholds. */
    private function injection(PageRequest $asked, Capture $capture, Url $base, string $nonce): string
    {
        $facts = json_encode([
            'code' => $asked->code, 'url' => $asked->spelled, 'suffix' => '.'.$asked->code.$asked->mode->mark().'.'.$this->hosts->suffix(),
            'moment' => (int) $capture->capturedAt->format('Uv'), 'alive' => ReplayMode::Alive === $asked->mode,
            'words' => ['notKept' => $this->translator->trans('This picture was not kept')],
        ], \JSON_THROW_ON_ERROR | \JSON_HEX_TAG | \JSON_HEX_AMP | \JSON_HEX_APOS | \JSON_HEX_QUOT | \JSON_INVALID_UTF8_SUBSTITUTE);

        return '<script nonce="'.$nonce.'">('.trim((string) file_get_contents($this->shim)).')('.$facts.')</script>';
    }
}
