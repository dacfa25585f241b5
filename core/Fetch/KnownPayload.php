<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/** A record that is held already and has the same payload as an answer that just came. */
final readonly class KnownPayload
{
    public function __construct(public string $url, public \DateTimeImmutable $at)
    {
    }
}
