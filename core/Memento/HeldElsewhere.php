<?php

declare(strict_types=1);

namespace Ypomna\Core\Memento;

use Ypomna\Core\Address\Url;

/** A capture that another archive holds (a Memento: RFC 7089, section 1.1). */
final readonly class HeldElsewhere
{
    public function __construct(public Url $url, public \DateTimeImmutable $at)
    {
    }
}
