<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Sites\Value;

/** What a group of pages brought. */
final readonly class GroupResult
{
    /**
     * @param list<PageResult> $pages
     * @param int $parts answers beside those of the pages
     * @param int $again of them, those that were held already
     * @param int $bytes of all answers
     * @param float $delay between two pages that the site asks for, in seconds
     */
    public function __construct(public array $pages, public int $parts, public int $again, public int $bytes, public float $delay)
    {
    }
}
