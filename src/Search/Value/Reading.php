<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

/** What words a file has. */
final readonly class Reading
{
    /**
     * @param list<string> $paragraphs
     * @param string $failure why there are none: `damaged`, `too_large`, `too_long`; '' if it could be read
     */
    public function __construct(public Means $means, public array $paragraphs, public string $failure = '')
    {
    }
}
