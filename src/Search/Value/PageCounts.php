<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

/**
 * How many pages were found that everybody sees, and how many of each sort: those that have one text each, and those that have several, of
 * which each is there.
 */
final class PageCounts
{
    public int $alone = 0;
    /** @var array<int, PageTexts> by address */
    public array $several = [];
    /** @var array<string, array<array-key, int>> by name of what results are narrowed by, and value */
    private array $of = ['year' => [], 'site' => [], 'kind' => [], 'tag' => [], 'language' => [], 'state' => []];

    /**
     * Pages that have one text each.
     *
     * @param list<string> $tags
     */
    public function alone(int $count, int $years, string $language, string $state, array $tags): void
    {
        $this->alone += $count;
        $this->one('kind', Kind::Page->word(), $count);
        $this->one('language', $language, $count);
        $this->one('state', $state, $count);
        foreach (Standing::years($years) as $year) {
            $this->one('year', $year, $count);
        }
        foreach ($tags as $tag) {
            $this->one('tag', $tag, $count);
        }
    }

    /** The same pages, by their site. */
    public function aloneOf(string $site, int $count): void
    {
        $this->one('site', $site, $count);
    }

    /**
     * Of all of them.
     *
     * @return array<string, array<array-key, int>> by name of what results are narrowed by, and value
     */
    public function all(): array
    {
        $counts = $this->of;
        // Most have one of few sets of years.
        $sets = [];
        foreach ($this->several as $page) {
            $counts['site'][$page->site] = ($counts['site'][$page->site] ?? 0) + 1;
            $counts['language'][$page->language] = ($counts['language'][$page->language] ?? 0) + 1;
            $counts['state'][$page->state] = ($counts['state'][$page->state] ?? 0) + 1;
            $sets[$page->years] = ($sets[$page->years] ?? 0) + 1;
            foreach ($page->tags as $tag => $is) {
                $counts['tag'][$tag] = ($counts['tag'][$tag] ?? 0) + 1;
            }
        }
        foreach ($sets as $set => $count) {
            foreach (Standing::years($set) as $year) {
                $counts['year'][$year] = ($counts['year'][$year] ?? 0) + $count;
            }
        }
        if ([] !== $this->several) {
            $page = Kind::Page->word();
            $counts['kind'][$page] = ($counts['kind'][$page] ?? 0) + \count($this->several);
        }

        return $counts;
    }

    private function one(string $name, int|string $value, int $count): void
    {
        $this->of[$name][$value] = ($this->of[$name][$value] ?? 0) + $count;
    }
}
