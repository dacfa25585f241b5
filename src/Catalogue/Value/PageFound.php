<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

/** A page, or a redirect on the way to one, that the indexer found in a file. */
final class PageFound
{
    public ?int $domOffset = null;
    public ?int $textOffset = null;
    public ?string $title = null;

    public function __construct(
        public readonly string $recordId,
        public readonly string $url,
        public readonly \DateTimeImmutable $at,
        public readonly int $offset,
        public readonly int $status,
        public readonly ?string $mime,
        public readonly ?string $payloadSha256,
        public readonly ?string $redirectTo,
        /** Whether the request or the way to it says that it was opened as a page, not as a part of one. */
        public readonly bool $opened,
    ) {
    }
}
