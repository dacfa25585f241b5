<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** What an item is about: a capture, an address, a file by its digest, several of these, or nothing but itself. */
final readonly class ItemSubject
{
    public function __construct(public ?string $capture = null, public ?string $url = null, public ?string $sha256 = null)
    {
    }
}
