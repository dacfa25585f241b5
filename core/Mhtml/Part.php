<?php

declare(strict_types=1);

namespace Ypomna\Core\Mhtml;

/** A part of a page that is to be written: its address, its type, its bytes. */
final readonly class Part
{
    /**
     * @param \Closure(): iterable<string> $body decoded bytes, in pieces
     * @param string|null $id Content-ID, without angle brackets
     */
    public function __construct(public string $location, public string $contentType, public \Closure $body, public ?string $id = null)
    {
    }

    public function isText(): bool
    {
        return 1 === preg_match('#^text/|^application/(?:xhtml\+xml|xml|json|javascript)\b|^image/svg#i', $this->contentType);
    }
}
