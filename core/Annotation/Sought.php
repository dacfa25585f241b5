<?php

declare(strict_types=1);

namespace Ypomna\Core\Annotation;

/**
 * What is looked for, and where it stands on the page that the mark was made on, in bytes of its folded text; null if that is not known.
 *
 * @internal
 */
final readonly class Sought
{
    public function __construct(public Quote $quote, public ?int $from = null, public ?int $to = null)
    {
    }
}
