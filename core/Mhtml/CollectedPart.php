<?php

declare(strict_types=1);

namespace Ypomna\Core\Mhtml;

/** A part of one page of a file that holds several. */
final readonly class CollectedPart
{
    /**
     * @param string $sha256 of the bytes, hex: parts with the same are written once
     * @param \Closure(): iterable<string> $body decoded bytes, in pieces; of a document or style sheet in UTF-8
     */
    public function __construct(public string $url, public string $contentType, public string $sha256, public \Closure $body)
    {
    }

    public function isDocument(): bool
    {
        return 1 === preg_match('#^(?:text/html|application/xhtml\+xml)\b#i', $this->contentType);
    }

    public function isStyle(): bool
    {
        return 1 === preg_match('#^text/css\b#i', $this->contentType);
    }
}
