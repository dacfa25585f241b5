<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Sites;

use Ypomna\App\Capture\PlainVisit;
use Ypomna\App\Capture\RobotsRules;
use Ypomna\App\Capture\Sites\Value\PageResult;
use Ypomna\App\Capture\Sites\Value\PartRequest;
use Ypomna\App\Capture\Sites\Value\TakenPage;
use Ypomna\App\Network\ClientConnections;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Completeness\GapReason;
use Ypomna\Core\Completeness\PageSeen;
use Ypomna\Core\Completeness\RequestedPart;
use Ypomna\Core\Crawl\AddressFile;
use Ypomna\Core\Crawl\Ruling;
use Ypomna\Core\Fetch\Answer;
use Ypomna\Core\Fetch\Exchange;
use Ypomna\Core\Fetch\FetchFailed;
use Ypomna\Core\Fetch\Gateway;
use Ypomna\Core\Http\Charset;
use Ypomna\Core\Http\CookieJar;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Glance;

/**
 * Fetches some pages of a site, and such of their parts as nobody has fetched yet, without a browser.
 */
final class SiteVisit
{
    private const HOPS = 5;
    private const FRAME_DEPTH = 3;
    private const MOST_PARTS = 5_000;
    private const CONNECTIONS = 12;

    /** @var ClientConnections<PageResult|PartRequest> */
    private readonly ClientConnections $lines;
    private int $asked = 0;
    /** @var list<Exchange> of parts */
    public array $parts = [];
    /** @var array<string, true> parts that are under way, by address */
    private array $underWay = [];

    /**
     * @param int $perHost connections
     * @param RobotsRules|null $robots what sites ask of programs; null where that does not bind
     */
    public function __construct(
        private readonly Gateway $gateway,
        private readonly FetchedParts $fetched,
        private readonly CookieJar $jar,
        private readonly ?RobotsRules $robots,
        int $perHost,
    ) {
        $this->lines = new ClientConnections($gateway, $perHost, self::CONNECTIONS, $this->request(...), $this->came(...));
    }

    /**
     * @param list<TakenPage> $pages
     * @param float $until Unix time
     *
     * @return list<PageResult>
     */
    public function fetch(array $pages, float $until): array
    {
        $all = [];
        foreach ($pages as $page) {
            $all[] = $came = new PageResult($page);
            if (null !== $this->robots && !$this->robots->allows($page->url)) {
                $came->left = Ruling::Robots;
            } else {
                $this->lines->ask($page->url, $came);
            }
        }
        $this->lines->work($until);

        return $all;
    }

    private function request(Url $url, PageResult|PartRequest $of): string
    {
        $cookies = $this->jar->header($url, new \DateTimeImmutable());

        return 'GET '.$url->target()." HTTP/1.1\r\nHost: ".$url->authority()."\r\nUser-Agent: ".PlainVisit::USER_AGENT
            ."\r\nAccept: */*\r\nAccept-Encoding: gzip\r\n".($of instanceof PartRequest ? 'Referer: '.$of->referrer."\r\n" : '')
            .(null === $cookies ? '' : 'Cookie: '.$cookies."\r\n")."Connection: keep-alive\r\n\r\n";
    }

    private function came(Exchange $exchange, Url $url, PageResult|PartRequest $of): void
    {
        $answer = null;
        try {
            $answer = $exchange->isAnswered() ? new Answer($url, $exchange) : null;
            $cookies = null === $answer ? [] : $answer->head->fields->all('Set-Cookie');
            if ([] !== $cookies) {
                $this->jar->take($url, $cookies, new \DateTimeImmutable());
            }
        } catch (FetchFailed) {
            // What is no answer is kept as it came.
        }
        if ($of instanceof PageResult) {
            $of->exchanges[] = $exchange;
            $of->at = $url;
            $this->page($of, $exchange, $answer, $url);
        } else {
            $this->parts[] = $exchange;
            $this->part($of, $exchange, $answer, $url);
        }
    }

    private function page(PageResult $came, Exchange $exchange, ?Answer $answer, Url $url): void
    {
        $next = $answer?->redirect();
        if (null !== $next) {
            if (\count($came->exchanges) <= self::HOPS && AddressKeys::keyHash((string) $next) === $came->page->keyHash) {
                // The same page by another of its names.
                $this->lines->ask($next, $came);
            } else {
                $came->redirect = (string) $next;
            }

            return;
        }
        if (null === $answer || 200 !== $exchange->status || null !== GapReason::of($exchange)) {
            return;
        }
        try {
            if ('page' !== $came->page->role) {
                $file = AddressFile::read($answer->body(), $url);
                [$came->links, $came->maps] = [$file->pages, $file->sitemaps];

                return;
            }
            if (1 === preg_match('#html#', $exchange->mime ?? 'text/html')) {
                $this->html($came, $answer, $url);
            }
        } catch (FetchFailed) {
            // It is kept as it came; nothing can be read from it.
        }
    }

    private function html(PageResult $came, Answer $answer, Url $url): void
    {
        $bytes = $answer->beginning(Document::MAX_BYTES);
        $html = Charset::text($bytes, $answer->head->fields->get('Content-Type'));
        $glance = Glance::at($html, $url);
        $came->title = $glance->title;
        $came->links = array_values(array_diff($glance->links, $glance->feeds));
        $came->maps = $glance->feeds;
        $came->pieces = $glance->pieces;
        $came->wanted = RequestedPart::ofHtml($html, $url);
        $came->seen = new PageSeen(
            $answer->head->status ?? 0,
            (string) $came->page->url,
            (string) $url,
            $glance->title,
            implode("\n", $glance->pieces),
            $html,
            (int) preg_match_all('/<(?:img|picture|video|audio|canvas|svg|iframe|frame|object|embed)\b/i', $html),
        );
        $came->leadsOn = $this->want($came->wanted, (string) $url, 0);
    }

    /**
     * @param list<RequestedPart> $wanted
     *
     * @return bool whether one of them was not known before
     */
    private function want(array $wanted, string $referrer, int $depth): bool
    {
        $addresses = array_merge(...array_map(static fn (RequestedPart $one): array => $one->any, $wanted));
        $new = false;
        foreach ([] === $addresses ? [] : $this->fetched->unknown($addresses) as $address) {
            $url = isset($this->underWay[$address]) || ++$this->asked > self::MOST_PARTS ? null : Url::tryParse($address);
            if (null !== $url) {
                $this->underWay[$address] = $new = true;
                $this->lines->ask($url, new PartRequest($address, $referrer, $depth));
            }
        }

        return $new;
    }

    private function part(PartRequest $part, Exchange $exchange, ?Answer $answer, Url $url): void
    {
        $next = $answer?->redirect();
        if (null !== $next) {
            if (++$part->hops > self::HOPS || isset($part->seen[(string) $next])) {
                $this->fetched->came($part->address, GapReason::Unreachable);
            } else {
                $part->seen[(string) $next] = true;
                $this->lines->ask($next, $part);
            }

            return;
        }
        $reason = GapReason::of($exchange);
        $asks = [];
        $isHtml = 1 === preg_match('#html#', $exchange->mime ?? '');
        try {
            if (null === $reason && null !== $answer && 200 === $exchange->status
                && ('text/css' === $exchange->mime || ($isHtml && $part->depth < self::FRAME_DEPTH))) {
                $bytes = $answer->beginning(Document::MAX_BYTES);
                $text = Charset::text($bytes, $answer->head->fields->get('Content-Type'));
                $asks = $isHtml ? RequestedPart::ofHtml($text, $url) : RequestedPart::ofStyle($text, $url);
                $this->want($asks, (string) $url, $part->depth + ($isHtml ? 1 : 0));
            }
        } catch (FetchFailed) {
            // It is kept as it came.
        }
        $this->fetched->came($part->address, $reason, $asks);
    }
}
