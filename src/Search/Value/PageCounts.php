<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

/** How many pages were found that have one text each, and how many of each sort. */
final class PageCounts
{
    public int $pages = 0;
    /** @var array<string, array<array-key, int>> by name of what results are narrowed by, and value */
    public array $of = ['year' => [], 'site' => [], 'kind' => [], 'tag' => [], 'language' => [], 'state' => []];

    /** @param list<string> $tags */
    public function add(int $count, int $years, string $language, string $state, array $tags): void
    {
        $this->pages += $count;
        foreach (Standing::years($years) as $year) {
            $this->one('year', $year, $count);
        }
        $this->one('kind', Kind::Page->word(), $count);
        $this->one('language', $language, $count);
        $this->one('state', $state, $count);
        foreach ($tags as $tag) {
            $this->one('tag', $tag, $count);
        }
    }

    public function one(string $name, int|string $value, int $count): void
    {
        $this->of[$name][$value] = ($this->of[$name][$value] ?? 0) + $count;
    }
}
