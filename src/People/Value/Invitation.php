<?php

declare(strict_types=1);

namespace Ypomna\App\People\Value;

/** A link by which somebody becomes a person here, once and within a day. */
final readonly class Invitation
{
    /** @param string|null $mailedTo null if it did not go out by mail */
    public function __construct(#[\SensitiveParameter] public string $link, public ?string $mailedTo)
    {
    }
}
