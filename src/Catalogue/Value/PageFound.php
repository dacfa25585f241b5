<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

/** A page, or a redirect on the way to one, that was found in a file. */
final readonly class PageFound
{
    public function __construct(
        /** '' if the record has none. */
        public string $recordId,
        public string $url,
        /** As the tables hold it; see AddressKeys. */
        public string $key,
        /** The address as it is shown for its key. */
        public string $canonical,
        /** UTC, as the tables hold it. */
        public string $at,
        public int $offset,
        public int $status,
        public ?string $mime,
        public ?string $payloadSha256,
        public ?string $redirectTo,
        /** Whether the request or the way to it says that it was opened as a page, not as a part of one. */
        public bool $opened,
        /** Whether the request says so. */
        public bool $asDocument,
    ) {
    }
}
