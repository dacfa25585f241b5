<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Ypomna\App\Catalogue\Value\ReadCapture;
use Ypomna\App\Catalogue\Value\RecordPlace;
use Ypomna\App\Replay\Value\PartQuery;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\Body;
use Ypomna\Core\Http\Charset;
use Ypomna\Core\Http\HttpDate;
use Ypomna\Core\Http\MimeSniffing;
use Ypomna\Core\Http\TooLarge;
use Ypomna\Core\Http\UnsupportedCoding;
use Ypomna\Core\Page\Requisites;
use Ypomna\Core\Replay\Coherence;
use Ypomna\Core\Replay\CssRewriter;
use Ypomna\Core\Replay\HtmlRewriter;
use Ypomna\Core\Replay\PartSeen;
use Ypomna\Core\Replay\ReferenceMapper;
use Ypomna\Core\Replay\ScriptRewriter;
use Ypomna\Core\Warc\HttpRecord;
use Ypomna\Core\Warc\WarcError;

/**
 * Answers for archived pages, on their hosts: with what was kept, rewritten so that it leads to what was kept, and never
 * with anything from today.
 */
final readonly class PageAnswers
{
    /** Pages and style sheets are rewritten up to here, in bytes; what lies beyond is passed on as it is, behind the same wall. */
    private const MAX_REWRITTEN = 12_582_912;
    private const LONGEST_LINE = 65_536;
    private const SCRIPTED = '~<script|\bon[a-z]+[\s/]*+=|javascript:|srcdoc~i';

    /**
     * @param string $shim our script, a function of the facts of the page
     * @param \Closure(string): list<string> $windows origins of our window, given the port (with its colon, or '') that was asked:
     *     nobody else is told what is read
     */
    public function __construct(
        private PageHosts $hosts,
        private ReadingRights $rights,
        private Holdings $holdings,
        private PageWords $words,
        private string $shim,
        private ReadingProof $proof,
        private \Closure $windows,
    ) {
    }

    public function to(PartQuery $ask): PageAnswer
    {
        $nonce = bin2hex(random_bytes(12));
        $asked = $this->hosts->read($ask->host, $ask->target);
        $right = null === $asked ? null : $this->rights->of($asked->label);
        $capture = null === $right ? null : $this->holdings->capture($right->viewer, $right->capture, $ask->opensDocument());
        $answer = match (true) {
            null !== $ask->header('service-worker') => new PageAnswer(403),
            !\in_array($ask->method, ['GET', 'HEAD', 'POST', 'OPTIONS'], true) => new PageAnswer(405),
            null === $asked,
            null === $capture => new PageAnswer(404, ['Content-Type' => 'text/plain; charset=utf-8'], ["There is no such capture.\n"]),
            'OPTIONS' === $ask->method => $this->mayAsk($ask, $asked, $capture),
            default => $this->answer($ask, $asked, $capture, $nonce),
        };
        // The hosts that it leads to.
        $this->hosts->keep();
        $answer->headers = Wall::headers(
            $asked->mode ?? ReplayMode::Still, $this->hosts->everyPage($ask->scheme, $ask->port), $nonce,
        ) + $answer->headers;

        return $answer;
    }

    /** A script asks whether it may ask. It may for what its own capture has, and for what nobody has. */
    private function mayAsk(PartQuery $ask, PageRequest $asked, ReadCapture $capture): PageAnswer
    {
        $place = $this->holdings->find(
            $asked->spelled, $capture, 'POST' === $ask->header('access-control-request-method') ? 'POST' : 'GET', null,
        );
        $open = $this->openTo($ask, $capture, $asked->only && $place?->fileId !== $capture->fileId ? null : $place);

        return new PageAnswer(
            204,
            [] === $open
                ? []
                : $open + [
                    'Access-Control-Allow-Methods' => 'GET, HEAD, POST',
                    'Access-Control-Allow-Headers' => $ask->header('access-control-request-headers') ?? '*',
                    'Access-Control-Max-Age' => '600',
                ],
        );
    }

    /**
     * What was taken from another capture stands in for what is missing, but no script may read it.
     *
     * @return array<string, string>
     */
    private function openTo(PartQuery $ask, ReadCapture $capture, ?RecordPlace $place): array
    {
        $headers = CorsPolicy::headers($ask, $this->hosts);

        return [] === $headers || null === $place || $this->holdings->isOwn($place, $capture) ? $headers : [];
    }

    private function answer(PartQuery $ask, PageRequest $asked, ReadCapture $capture, string $nonce): PageAnswer
    {
        $links = new CaptureLinks($this->hosts, $asked->label, $asked->mode, $ask->scheme, $ask->port, $asked->only);
        $place = $this->holdings->find($asked->spelled, $capture, 'POST' === $ask->method ? 'POST' : 'GET', $ask->body);
        if ($ask->opensDocument() && $place?->fileId !== $capture->fileId) {
            // A page of its own is read as of its own capture, with its own parts.
            $nearest = $this->holdings->nearest($capture->viewer, $asked->spelled, $capture->at);
            if (null !== $nearest && $nearest->code !== $capture->code) {
                $label = $this->rights->label($capture->viewer, $nearest->code);
                $own = new CaptureLinks($this->hosts, $label, $asked->mode, $ask->scheme, $ask->port, $asked->only);

                return new PageAnswer(302, ['Location' => $own->map(Url::parse($nearest->url))]);
            }
        }
        if ($asked->through && null !== $place) {
            return new PageAnswer(307, ['Location' => $links->map($asked->url)] + $this->openTo($ask, $capture, $place));
        }
        if ($asked->only && $place?->fileId !== $capture->fileId) {
            $place = null;
        }
        if (null === $place) {
            $answer = $this->notKept($ask, $asked, $capture, $nonce);
            self::tellOrigin($answer, $asked);
            $answer->headers += CorsPolicy::headers($ask, $this->hosts);

            return $answer;
        }
        try {
            $answer = $this->serve($ask, $asked, $capture, $place, $links, $nonce);
            $answer->headers += $this->openTo($ask, $capture, $place);
            if ($place->fileId !== $capture->fileId) {
                $certainly = Coherence::of(
                    $capture->at,
                    $this->seen($place),
                    null === $place->before ? null : $this->seen($place->before),
                    null === $place->after ? null : $this->seen($place->after),
                );
                $answer->headers['Server-Timing'] = 'from;desc="'.$place->at->format('Y-m-d\TH:i:s.v\Z').'"'
                    .(Coherence::Unknown === $certainly ? '' : ', '.$certainly->value);
                self::tellOrigin($answer, $asked);
            }

            return $answer;
        } catch (WarcError $e) {
            return new PageAnswer(
                502, ['Content-Type' => 'text/plain; charset=utf-8'], ['This part cannot be read from its file: '.$e->getMessage()."\n"],
            );
        }
    }

    /** A page's script cannot read a mark back, so it is told where the part comes from. */
    private static function tellOrigin(PageAnswer $answer, PageRequest $asked): void
    {
        if ($asked->long && isset($answer->headers['Server-Timing'])) {
            $answer->headers['Server-Timing'] .= ', of;desc="'.rawurlencode($asked->url->origin()).'"';
        }
    }

    private function seen(RecordPlace $place): PartSeen
    {
        return new PartSeen($place->at, $place->status, $place->payloadSha256, function () use ($place): ?\DateTimeImmutable {
            try {
                return HttpDate::parse($this->holdings->answer($place->path, $place->offset)->head?->fields->get('Last-Modified') ?? '');
            } catch (WarcError) {
                return null;
            }
        });
    }

    private function serve(
        PartQuery $ask,
        PageRequest $asked,
        ReadCapture $capture,
        RecordPlace $place,
        CaptureLinks $links,
        string $nonce,
    ): PageAnswer {
        $isPage = $place->fileId === $capture->fileId && $place->offset === $capture->responseOffset;
        $record = $this->holdings->answer($place->path, $place->offset);
        $location = $record->head?->fields->get('Location');
        if ($place->status >= 300 && $place->status < 400 && null !== $location) {
            $target = Url::tryParse($location, Url::tryParse($place->url));

            return null === $target || !$target->isWeb()
                ? new PageAnswer(404)
                : new PageAnswer($place->status, ['Location' => $links->map($target)]);
        }
        $base = Url::tryParse($place->url) ?? $asked->url;
        $mapper = new ReferenceMapper($links, $base);
        $headers = [
            'Content-Type' => null === $record->head ? $record->record->header->contentType() : $record->head->fields->get('Content-Type'),
        ] + [
            'Content-Language' => $record->head?->fields->get('Content-Language'),
            'Last-Modified' => $record->head?->fields->get('Last-Modified'),
        ];
        $mime = $record->mime() ?? '';
        $status = \in_array($place->status, [206, 304], true) ? 200 : $place->status;
        $reading = new Reading($ask, $asked, $capture, $nonce);
        $dom = match (true) {
            ReplayMode::Still !== $asked->mode || $place->fileId !== $capture->fileId => null,
            $isPage => $capture->domOffset,
            // A frame as its scripts left it.
            default => $ask->opensDocument() && 200 === $place->status ? $this->holdings->rendered($place->url, $capture) : null,
        };
        if (null !== $dom) {
            $rendered = $this->holdings->block($place->path, $dom);

            return $this->html($reading, $rendered, 'text/html; charset=utf-8', $status, $headers, $mapper, $base);
        }
        try {
            $body = Body::decode($record->body(), $record->head?->fields->tokens('Content-Encoding') ?? []);
        } catch (UnsupportedCoding) {
            return $this->stream(
                $ask,
                $record,
                $record->body(),
                $status,
                $headers + ['Content-Encoding' => implode(', ', $record->head?->fields->tokens('Content-Encoding') ?? [])],
            );
        }
        if ('' === $mime) {
            $body = (static function () use ($body): \Generator { yield from $body; })();
            $mime = $headers['Content-Type'] = MimeSniffing::of((string) $body->current());
            // A generator that is at its end can be passed on no more.
            $body = $body->valid() ? $body : [];
        }
        if (\in_array($mime, ['text/html', 'application/xhtml+xml'], true)) {
            return $this->html($reading, $body, (string) $headers['Content-Type'], $status, $headers, $mapper, $base);
        }
        if ('text/css' === $mime) {
            return $this->css($body, $status, $headers, $mapper);
        }

        if (1 === preg_match('#^(?:text|application)/(?:x-)?(?:java|ecma)script$#', $mime)) {
            // Modules are asked for across origins and are always in UTF-8. Of others, what says nothing of its encoding is in that of the
            // page, which its element says ({@see HtmlRewriter}).
            $isModule = 'cors' === $ask->header('sec-fetch-mode');
            $says = 1 === preg_match('/;\s*charset\s*=/i', (string) $headers['Content-Type']);
            [$script, $rest] = $this->firstPart($body, $isModule || !$says ? null : (string) $headers['Content-Type']);
            $headers = ($isModule || !$says ? [] : ['Content-Type' => $mime.'; charset=utf-8']) + $headers;

            return $this->pieces($status, $headers, (new ScriptRewriter($mapper))->rewrite($script, $isModule), $rest);
        }
        if ('image/svg+xml' === $mime && $ask->opensDocument()) {
            [$svg, $rest] = $this->firstPart($body, 'image/svg+xml;'.$headers['Content-Type']);

            return $this->pieces(
                $status, ['Content-Type' => 'image/svg+xml; charset=utf-8'] + $headers, (new HtmlRewriter($mapper))->rewrite($svg), $rest,
            );
        }

        return $this->stream($ask, $record, $body, $status, $headers);
    }

    /**
     * @param iterable<string> $body
     * @param array<string, string|null> $headers
     */
    private function html(
        Reading $reading, iterable $body, string $contentType, int $status, array $headers, ReferenceMapper $mapper, Url $base,
    ): PageAnswer {
        [$html, $rest, $charset] = $this->firstPart($body, $contentType);
        $encoding = 'utf-8' === $charset ? '' : (string) $charset;
        $script = '';
        if ($reading->ask->opensDocument()) {
            [$own, $wanted] = Requisites::of($html);
            $from = (null === $own ? null : Url::tryParse($own, $base)) ?? $base;
            $this->foresee($wanted, $from, $reading->capture);
            // What stands in for the web in front of scripts is not put up where there are none.
            // What lies beyond is not looked at, and may have some.
            $isScripted = \strlen($html) >= self::MAX_REWRITTEN - self::LONGEST_LINE || 1 === preg_match(self::SCRIPTED, $html);
            $isStill = ReplayMode::Still === $reading->asked->mode;
            $drawings = $isStill ? (new Drawings($this->holdings))->of($html, $from, $reading->capture, $reading->asked->only) : null;
            $script = $this->injection($reading, $isScripted && !$isStill, $drawings);
        }
        $type = str_starts_with($contentType, 'application/xhtml') ? 'application/xhtml+xml' : 'text/html';

        $page = (new HtmlRewriter($mapper, $script, true, $encoding))->rewrite($html);

        return $this->pieces($status, ['Content-Type' => $type.'; charset=utf-8'] + $headers, $page, $rest);
    }

    /**
     * A document names its parts: where they are is looked up for all of them at once.
     *
     * @param list<list<string>> $wanted
     */
    private function foresee(array $wanted, Url $base, ReadCapture $as): void
    {
        $urls = [];
        foreach ($wanted as $any) {
            foreach ($any as $reference) {
                $url = Url::tryParse($reference, $base);
                if (null !== $url && $url->isWeb()) {
                    $urls[(string) $url->withoutFragment()] = true;
                }
            }
        }
        $this->holdings->foresee(array_map(strval(...), array_keys($urls)), $as);
    }

    /**
     * @param iterable<string> $body
     * @param array<string, string|null> $headers
     */
    private function css(iterable $body, int $status, array $headers, ReferenceMapper $mapper): PageAnswer
    {
        [$css, $rest] = $this->firstPart($body, 'text/css;'.($headers['Content-Type'] ?? ''));

        return $this->pieces(
            $status, ['Content-Type' => 'text/css; charset=utf-8'] + $headers, (new CssRewriter($mapper))->rewrite($css), $rest,
        );
    }

    /**
     * Passes a body on in pieces; a range of it where a player asks for one and its length is known.
     *
     * @param iterable<string> $body
     * @param array<string, string|null> $headers
     */
    private function stream(PartQuery $ask, HttpRecord $record, iterable $body, int $status, array $headers): PageAnswer
    {
        $length = $record->head?->contentLength();
        // A server that gives no ranges leaves a player in doubt about how long a sound lasts; so it does here. Films say it at their
        // beginning.
        $gives = 206 === $record->head?->status || !str_starts_with((string) $record->mime(), 'audio/')
            || \in_array('bytes', $record->head?->fields->tokens('Accept-Ranges') ?? ['bytes'], true);
        $plain = null !== $length && [] === $record->head->fields->tokens('Content-Encoding') && 200 === $status;
        if (!$plain || !$gives || 1 !== preg_match('/^bytes=(\d+)-(\d*)$/', (string) $ask->header('range'), $m)) {
            $headers += $plain ? ['Content-Length' => (string) $length] + ($gives ? ['Accept-Ranges' => 'bytes'] : []) : [];

            return $this->pieces($status, $headers, '', $body);
        }
        $from = (int) $m[1];
        $to = min('' === $m[2] ? $length - 1 : (int) $m[2], $length - 1);
        if ($from > $to) {
            return new PageAnswer(416, ['Content-Range' => 'bytes */'.$length]);
        }
        $headers += [
            'Content-Range' => "bytes {$from}-{$to}/{$length}", 'Content-Length' => (string) ($to - $from + 1), 'Accept-Ranges' => 'bytes',
        ];

        return $this->pieces(206, $headers, '', self::section($body, $from, $to - $from + 1));
    }

    /**
     * @param array<string, string|null> $headers
     * @param iterable<string> $rest
     */
    private function pieces(int $status, array $headers, string $first, iterable $rest): PageAnswer
    {
        $status = $status >= 200 && $status < 600 ? $status : 200;

        return new PageAnswer($status, $headers, (static function () use ($first, $rest): \Generator {
            if ('' !== $first) {
                yield $first;
            }
            try {
                yield from $rest;
            } catch (WarcError|TooLarge) {
                // The file is damaged from here on, or its coding swells beyond all measure: what could be read has been sent.
            }
        })());
    }

    /**
     * @param iterable<string> $body
     *
     * @return array{string, iterable<string>, string|null} what is rewritten, what lies beyond, and the encoding in which it came
     */
    private function firstPart(iterable $body, ?string $contentType): array
    {
        $body = (static function () use ($body): \Generator { yield from $body; })();
        $bytes = '';
        while ($body->valid() && \strlen($bytes) < self::MAX_REWRITTEN) {
            $bytes .= $body->current();
            $body->next();
        }
        $charset = null === $contentType ? null : Charset::detect($bytes, $contentType);
        $over = $body->valid() ? self::behindLastLine($bytes) : '';
        $bytes = '' === $over ? $bytes : substr($bytes, 0, -\strlen($over));
        $rest = (static function () use ($body, $over, $charset): \Generator {
            for (; $body->valid(); $body->next()) {
                $over .= $body->current();
                $left = self::behindLastLine($over);
                $whole = '' === $left ? $over : substr($over, 0, -\strlen($left));
                $over = $left;
                yield null === $charset ? $whole : Charset::toUtf8($whole, $charset);
            }
            yield null === $charset ? $over : Charset::toUtf8($over, $charset);
        })();

        return [null === $charset ? $bytes : Charset::toUtf8($bytes, $charset), $rest, $charset];
    }

    /** A body is cut behind a line or a tag, never within a character: in no encoding but UTF-16 these bytes are part of another. */
    private static function behindLastLine(string $bytes): string
    {
        $tail = substr($bytes, -self::LONGEST_LINE);
        $length = \strlen($tail) - 1 - max((int) strrpos($tail, "\n"), (int) strrpos($tail, '>'));

        return $length >= \strlen($tail) - 1 ? '' : substr($tail, \strlen($tail) - $length);
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

    private function notKept(PartQuery $ask, PageRequest $asked, ReadCapture $capture, string $nonce): PageAnswer
    {
        if (!$ask->opensDocument()) {
            return new PageAnswer(404, ['Server-Timing' => 'gap']);
        }

        $script = $this->injection(new Reading($ask, $asked, $capture, $nonce), ReplayMode::Alive === $asked->mode, null);

        return new PageAnswer(404, ['Content-Type' => 'text/html; charset=utf-8'], [($this->words->notKeptPage)($asked->spelled, $script)]);
    }

    /**
     * Our script at the beginning of the page: tells the window what is being read, and answers for what the sandbox withholds.
     *
     * @param bool $isAlive whether scripts of the page are to run
     * @param array<string, string>|null $drawings that it cannot ask for, by address; null where it can
     */
    private function injection(Reading $reading, bool $isAlive, ?array $drawings): string
    {
        $asked = $reading->asked;
        $facts = json_encode([
            'code' => $reading->capture->code, 'url' => $asked->spelled,
            'hosts' => $this->hosts->facts($asked->url, $asked->label, $asked->mode, $asked->only),
            'proof' => $this->proof->of($reading->capture->code), 'windows' => ($this->windows)($reading->ask->port),
            'moment' => (int) $reading->capture->at->format('Uv'), 'alive' => $isAlive,
            'drawings' => null === $drawings ? null : (object) $drawings,
            'words' => ['notKept' => $this->words->pictureNotKept, 'different' => $this->words->different],
        ], \JSON_THROW_ON_ERROR | \JSON_HEX_TAG | \JSON_HEX_AMP | \JSON_HEX_APOS | \JSON_HEX_QUOT | \JSON_INVALID_UTF8_SUBSTITUTE);

        return '<script nonce="'.$reading->nonce.'">//<![CDATA['."\n(".$this->shim.')('.$facts.")\n//]]></script>";
    }
}
