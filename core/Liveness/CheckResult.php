<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

use Ypomna\Core\Address\Url;

/** What came of a check of an address. */
final readonly class CheckResult
{
    /**
     * @param list<array{url: string, status: int|null}> $hops each address that was asked, the last one too
     * @param int|null $status of the last answer; null if there was none
     * @param string|null $type media type in lower case, without parameters
     * @param string $body the beginning of the body, codings taken off
     * @param LiveReason|null $failure why there is no answer to judge
     */
    public function __construct(
        public Url $asked,
        public Url $final,
        public array $hops,
        public ?int $status,
        public ?string $type = null,
        public string $contentType = '',
        public string $body = '',
        public ?LiveReason $failure = null,
        public string $message = '',
        /** By which the server knows this version of the page again (RFC 9110, section 8.8). */
        public ?string $etag = null,
        public ?string $modified = null,
    ) {
    }

    public function isHtml(): bool
    {
        return null === $this->type || '' === $this->type || 1 === preg_match('#html|xhtml#', $this->type);
    }
}
