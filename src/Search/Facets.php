<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Ypomna\App\Search\Value\Group;
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

    /**
     * @param list<Group> $groups
     *
     * @return array<string, list<array{value: string, count: int}>>
     */
    public static function of(array $groups, SearchWish $wish): array
    {
        $counts = ['year' => [], 'site' => [], 'kind' => [], 'tag' => [], 'language' => [], 'state' => []];
        $isNarrowed = null !== $wish->year || null !== $wish->site || null !== $wish->kind || null !== $wish->language
            || null !== $wish->state || null !== $wish->tag;
        // Most have one of few sets of years.
        $years = [];
        foreach ($groups as $group) {
            $best = $group->best;
            $values = [
                'year' => $years[$group->years] ??= Standing::years($group->years), 'site' => [$best->site],
                'kind' => [$best->kind->word()],
                'language' => [$best->language], 'state' => [$best->state], 'tag' => array_keys($group->tags),
            ];
            foreach ($values as $name => $some) {
                if (!$isNarrowed || self::fits($group, $wish, $name)) {
                    foreach ($some as $value) {
                        $counts[$name][$value] = ($counts[$name][$value] ?? 0) + 1;
                    }
                }
            }
        }

        return array_map(static function (array $values): array {
            unset($values['']);
            arsort($values);
            $list = [];
            foreach (\array_slice($values, 0, self::MOST_VALUES, true) as $value => $count) {
                $list[] = ['value' => (string) $value, 'count' => $count];
            }

            return $list;
        }, $counts);
    }
}
