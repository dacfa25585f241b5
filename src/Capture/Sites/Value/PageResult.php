<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Sites\Value;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Completeness\PageSeen;
use Ypomna\Core\Completeness\RequestedPart;
use Ypomna\Core\Crawl\Ruling;
use Ypomna\Core\Fetch\Exchange;

/** What came of a page of a site. */
final class PageResult
{
    /** @var list<Exchange> redirects to itself first, the answer last */
    public array $exchanges = [];
    /** Where it was in the end. */
    public Url $at;
    public string $title = '';
    /** @var list<string> addresses that it leads to */
    public array $links = [];
    /** @var list<string> addresses of feeds and further sitemaps */
    public array $maps = [];
    /** @var list<string> texts */
    public array $pieces = [];
    /** @var list<RequestedPart> */
    public array $wanted = [];
    public ?PageSeen $seen = null;
    /** Where it sends to, if that is another page. */
    public ?string $redirect = null;
    /** Whether it names a part, or an address of another kind, that no page before it did. */
    public bool $leadsOn = false;
    /** Why it was not asked for at all. */
    public ?Ruling $left = null;
    /** Why it failed: a word, and a sentence. */
    public ?string $reason = null;
    public ?string $message = null;
    /** Seconds after which it may be tried again; null if there is no use. */
    public ?int $again = null;
    /** `whole`, `gaps`, `failed`; null if nothing was kept. */
    public ?string $verdict = null;
    public ?int $status = null;
    /** Where the answer stands in the file. */
    public ?int $offset = null;

    public function __construct(public readonly TakenPage $page)
    {
        $this->at = $page->url;
    }

    public function main(): ?Exchange
    {
        return [] === $this->exchanges ? null : $this->exchanges[\count($this->exchanges) - 1];
    }
}
