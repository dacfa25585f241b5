<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

/** What a list shows of an address, with the capture that shows its page best: the newest alive, else the newest. */
final readonly class AddressLine
{
    /**
     * @param string|null $title what the page calls itself; null if it is not known
     * @param string|null $capture its code; null if nothing is held
     * @param bool $hasPicture whether a browser made that capture, and with it most likely a picture
     */
    public function __construct(
        public string $code,
        public string $url,
        public int $captures,
        public \DateTimeImmutable $lastAt,
        public ?string $title,
        public ?string $capture,
        public bool $hasPicture,
    ) {
    }
}
