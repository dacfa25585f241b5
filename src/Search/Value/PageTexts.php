<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

/** The texts of a page that were found, where it has several: all but those that are in order. */
final class PageTexts
{
    /** @var list<int> */
    public array $texts = [];
    /** A bit a year. */
    public int $years = 0;
    /** @var array<string, true> */
    public array $tags = [];

    public function __construct(public readonly string $site, public readonly string $language, public readonly string $state)
    {
    }
}
