<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Ypomna\App\Search\Value\Group;
use Ypomna\App\Search\Value\Kind;
use Ypomna\App\Search\Value\PageCounts;
use Ypomna\App\Search\Value\SearchWish;
use Ypomna\App\Search\Value\Standing;

/** By what results are narrowed, and how many there are of each: within the question and all other narrowing. */
final class Facets
{
    private const MOST_VALUES = 50;

    /** @param string|null $without the name by which it is not narrowed */
    public static function fits(Group $group, SearchWish $wish, ?string $without): bool
    {
        $best = $group->best;

        return ('year' === $without || null === $wish->year || 0 !== ($group->years & Standing::bit($wish->year)))
            && ('site' === $without || null === $wish->site || $best->site === $wish->site)
            && ('kind' === $without || null === $wish->kind || $best->kind->word() === $wish->kind)
            && ('language' === $without || null === $wish->language || $best->language === $wish->language)
            && ('state' === $without || null === $wish->state || $best->state === $wish->state)
            && ('tag' === $without || null === $wish->tag || isset($group->tags[$wish->tag]));
    }

    public static function isNarrowed(SearchWish $wish): bool
    {
        return null !== $wish->year || null !== $wish->site || null !== $wish->kind || null !== $wish->language
            || null !== $wish->state || null !== $wish->tag;
    }

    /**
     * @param list<Group> $groups
     * @param PageCounts|null $counted pages that the index counted: those of one text may be among these; null if it counted none
     *
     * @return array<string, list<array{value: string, count: int}>>
     */
    public static function of(array $groups, SearchWish $wish, ?PageCounts $counted = null): array
    {
        $counts = ($counted ?? new PageCounts())->all();
        $groups = null === $counted ? $groups : array_filter($groups, static fn (Group $group): bool => !$group->best->isCounted);
        // Most have one of few sets of years.
        $years = $kinds = $sets = [];
        $isNarrowed = self::isNarrowed($wish);
        foreach ($isNarrowed ? [] : $groups as $group) {
            // There are thousands of them: without a list for each.
            $best = $group->best;
            $counts['site'][$best->site] = ($counts['site'][$best->site] ?? 0) + 1;
            $counts['language'][$best->language] = ($counts['language'][$best->language] ?? 0) + 1;
            $counts['state'][$best->state] = ($counts['state'][$best->state] ?? 0) + 1;
            $kinds[$best->kind->value] = ($kinds[$best->kind->value] ?? 0) + 1;
            $sets[$group->years] = ($sets[$group->years] ?? 0) + 1;
            foreach ($group->tags as $tag => $is) {
                $counts['tag'][$tag] = ($counts['tag'][$tag] ?? 0) + 1;
            }
        }
        foreach ($kinds as $kind => $count) {
            $word = Kind::from($kind)->word();
            $counts['kind'][$word] = ($counts['kind'][$word] ?? 0) + $count;
        }
        foreach ($sets as $set => $count) {
            foreach (Standing::years($set) as $year) {
                $counts['year'][$year] = ($counts['year'][$year] ?? 0) + $count;
            }
        }
        foreach ($isNarrowed ? $groups : [] as $group) {
            $best = $group->best;
            $values = [
                'year' => $years[$group->years] ??= Standing::years($group->years), 'site' => [$best->site],
                'kind' => [$best->kind->word()],
                'language' => [$best->language], 'state' => [$best->state], 'tag' => array_keys($group->tags),
            ];
            foreach ($values as $name => $some) {
                if (self::fits($group, $wish, $name)) {
                    foreach ($some as $value) {
                        $counts[$name][$value] = ($counts[$name][$value] ?? 0) + 1;
                    }
                }
            }
        }

        return array_map(static function (array $values): array {
            unset($values['']);
            // Of those that are equal, the same come first however they were counted.
            ksort($values, \SORT_STRING);
            arsort($values);
            $list = [];
            foreach (\array_slice($values, 0, self::MOST_VALUES, true) as $value => $count) {
                $list[] = ['value' => (string) $value, 'count' => $count];
            }

            return $list;
        }, $counts);
    }
}
