<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Ypomna\App\Network\CaptureOptions;
use Ypomna\App\Network\ClientConnections;
use Ypomna\App\Network\Extent;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Completeness\PageSeen;
use Ypomna\Core\Completeness\RequestedPart;
use Ypomna\Core\Fetch\Answer;
use Ypomna\Core\Fetch\Exchange;
use Ypomna\Core\Fetch\FetchFailed;
use Ypomna\Core\Fetch\Gateway;
use Ypomna\Core\Http\Charset;
use Ypomna\Core\Http\CookieJar;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Refresh;

/**
 * Fetches a page and what it asks for without a browser: side by side, over connections that are used again. No script
 * runs; of a picture's candidates all are fetched.
 */
final class PlainVisit
{
    public const USER_AGENT = 'Mozilla/5.0 (compatible; Ypomna/0.1; plain capture)';

    private const CONNECTIONS_PER_ORIGIN = 6;
    private const CONNECTIONS = 24;
    private const REDIRECTS = 20;
    private const REPEATS = 3;
    private const BEGINNING = 65_536;
    /** How long a page may wait before it sends on by itself, in seconds. */
    private const PATIENCE = 4;
    private const FRAME_DEPTH = 3;
    private const MAX_PARTS = 3_000;

    /** @var ClientConnections<array{int, int}> redirects so far, depth of frames */
    private readonly ClientConnections $lines;
    /** @var array<string, true> */
    private array $known = [];
    private readonly CookieJar $jar;

    public function __construct(
        private readonly Gateway $gateway,
        private readonly Visit $visit,
        private readonly CaptureOptions $options = new CaptureOptions(),
    ) {
        $this->jar = new CookieJar();
        $this->lines = new ClientConnections(
            $gateway, self::CONNECTIONS_PER_ORIGIN, self::CONNECTIONS, $this->request(...), $this->came(...),
        );
        foreach ($options->cookies as $cookie) {
            $from = Url::tryParse(($cookie->secure ? 'https://' : 'http://').$cookie->domain.$cookie->path);
            if (null !== $from) {
                $this->jar->take(
                    $from,
                    [$cookie->name.'='.$cookie->value.'; Path='.$cookie->path.($cookie->forAll ? '; Domain='.$cookie->domain : '')
                        .($cookie->secure ? '; Secure' : '')],
                    new \DateTimeImmutable(),
                );
            }
        }
    }

    /** @param float $until Unix time */
    public function visit(Url $url, float $until): void
    {
        $this->visit->browser = $this->agent();
        $at = $url->withoutFragment();
        $repeats = 0;
        for ($hop = 0; $hop <= self::REDIRECTS; ++$hop) {
            $this->known[(string) $at] = true;
            $exchange = $this->gateway->fetch(
                $at, $this->agent(), null, $this->jar->header($at, new \DateTimeImmutable()), $this->fields(),
            );
            if (null === $exchange) {
                return;
            }
            $this->cookies($exchange, $at);
            $this->visit->main = $exchange->isAnswered() ? $exchange : $this->visit->main;
            $next = $this->redirect($exchange, $at) ?? $this->refresh($exchange, $at);
            if (null === $next) {
                break;
            }
            // A page may send to itself to see whether its cookie comes back.
            if (self::REDIRECTS === $hop || (isset($this->known[(string) $next]) && ++$repeats > self::REPEATS)) {
                $this->visit->error = 'TOO_MANY_REDIRECTS';

                return;
            }
            $at = $next;
        }
        if (null === $this->visit->main || $this->visit->main !== ($exchange ?? null)) {
            return;
        }
        $this->page($this->visit->main, $at, $url, $until);
    }

    private function page(Exchange $main, Url $at, Url $asked, float $until): void
    {
        try {
            $answer = new Answer($at, $main);
            $type = $answer->head->fields->get('Content-Type');
            $isHtml = 1 === preg_match('#html#', $main->mime ?? 'text/html');
            $isText = 1 === preg_match('#^text/#', $main->mime ?? '');
            $bytes = $isHtml || $isText ? $answer->beginning(Document::MAX_BYTES) : '';
        } catch (FetchFailed) {
            return;
        }
        $html = $isHtml ? Charset::text($bytes, $type) : '';
        $document = $isHtml ? Document::fromHtml($bytes, $type, (string) $at) : Document::fromText($isText ? $bytes : '');
        $this->visit->title = $document->title;
        $this->visit->says = array_filter(
            ['description' => $document->description, 'language' => $document->language ?? ''],
            static fn (string $said): bool => '' !== $said,
        );
        $this->visit->written = $document->text();
        $substance = (int) preg_match_all('/<(?:img|picture|video|audio|canvas|svg|iframe|frame|object|embed)\b/i', $html);
        if ($isHtml) {
            $this->visit->seen = new PageSeen(
                $main->status ?? 0, (string) $asked->withoutFragment(), (string) $at, $document->title, $document->text(), $html,
                $substance,
            );
            $this->want(Extent::Whole === $this->options->extent ? RequestedPart::ofHtml($html, $at) : [], 0);
        } elseif ('text/css' === $main->mime && Extent::Whole === $this->options->extent) {
            $this->want(RequestedPart::ofStyle($bytes, $at), 0);
        }
        $this->lines->work($until);
    }

    /**
     * @param list<RequestedPart> $wanted
     */
    private function want(array $wanted, int $depth): void
    {
        foreach ($wanted as $one) {
            $this->visit->wanted[] = $one;
            foreach ($one->any as $address) {
                $url = Url::tryParse($address);
                if (null !== $url) {
                    $this->ask($url, 0, $depth);
                }
            }
        }
    }

    private function ask(Url $url, int $redirects, int $depth): void
    {
        if (isset($this->known[(string) $url]) || \count($this->known) >= self::MAX_PARTS || $redirects > self::REDIRECTS) {
            return;
        }
        $this->known[(string) $url] = true;
        $this->lines->ask($url, [$redirects, $depth]);
    }

    private function request(Url $url): string
    {
        return 'GET '.$url->target()." HTTP/1.1\r\nHost: ".$url->authority()."\r\nUser-Agent: ".$this->agent()
            ."\r\nAccept: */*\r\nAccept-Encoding: gzip\r\nReferer: ".($this->visit->main->url ?? '')."\r\n".$this->cookieLine($url)
            .$this->fields()."Connection: keep-alive\r\n\r\n";
    }

    private function agent(): string
    {
        return self::plain($this->options->userAgent('') ?? self::USER_AGENT);
    }

    /** Further lines of each request; what a person added is put in by the gateway. */
    private function fields(): string
    {
        return null === $this->options->language ? '' : 'Accept-Language: '.self::plain($this->options->language)."\r\n";
    }

    private static function plain(string $text): string
    {
        return trim((string) preg_replace('/[\x00-\x1f\x7f]+/', ' ', $text));
    }

    private function cookieLine(Url $url): string
    {
        $cookies = $this->jar->header($url, new \DateTimeImmutable());

        return null === $cookies ? '' : 'Cookie: '.$cookies."\r\n";
    }

    private function cookies(Exchange $exchange, Url $url): void
    {
        try {
            $this->jar->take(
                $url,
                $exchange->isAnswered() ? (new Answer($url, $exchange))->head->fields->all('Set-Cookie') : [],
                new \DateTimeImmutable(),
            );
        } catch (FetchFailed) {
            // What is no answer sets nothing.
        }
    }

    /** @param array{int, int} $of redirects so far, depth of frames */
    private function came(Exchange $exchange, Url $url, array $of): void
    {
        [$redirects, $depth] = $of;
        $this->cookies($exchange, $url);
        $next = $this->redirect($exchange, $url);
        if (null !== $next) {
            $this->ask($next, $redirects + 1, $depth);

            return;
        }
        $isHtml = 1 === preg_match('#html#', $exchange->mime ?? '');
        if (200 !== $exchange->status || null !== $exchange->failure || (!$isHtml && 'text/css' !== $exchange->mime)
            || ($isHtml && $depth >= self::FRAME_DEPTH)) {
            return;
        }
        try {
            $answer = new Answer($url, $exchange);
            $bytes = $answer->beginning(Document::MAX_BYTES);
            $text = Charset::text($bytes, $answer->head->fields->get('Content-Type'));
            $this->want($isHtml ? RequestedPart::ofHtml($text, $url) : RequestedPart::ofStyle($text, $url), $depth + ($isHtml ? 1 : 0));
        } catch (FetchFailed) {
            // It is kept as it came; nothing can be read from it.
        }
    }

    private function redirect(Exchange $exchange, Url $url): ?Url
    {
        try {
            return $exchange->isAnswered() ? (new Answer($url, $exchange))->redirect() : null;
        } catch (FetchFailed) {
            return null;
        }
    }

    /** A page that sends on by itself, at once. */
    private function refresh(Exchange $exchange, Url $url): ?Url
    {
        if (200 !== $exchange->status || 1 !== preg_match('#html#', $exchange->mime ?? '')) {
            return null;
        }
        try {
            $answer = new Answer($url, $exchange);
            $bytes = $answer->beginning(self::BEGINNING);
        } catch (FetchFailed) {
            return null;
        }

        return Refresh::target($bytes, $answer->head->fields->get('Content-Type'), $url, self::PATIENCE);
    }
}
