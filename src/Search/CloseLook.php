<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Ypomna\App\Search\Value\FoundPiece;
use Ypomna\App\Search\Value\Group;
use Ypomna\App\Search\Value\Kind;
use Ypomna\Core\Compare\Fingerprint;
use Ypomna\Core\Search\Finds;
use Ypomna\Core\Search\Part;
use Ypomna\Core\Search\Ranking;
use Ypomna\Core\Search\Wanted;
use Ypomna\Core\Search\Writing;

/** Looks closely at the best of what was found: where in them it stands, how well they answer, and which of them are much alike. */
final readonly class CloseLook
{
    /** Of the best, so many are looked at. */
    public const LOOKED_AT = 40;
    /** So many are put together where they are much alike: which have this share of runs of words in common. */
    public const FOLDED = 500;
    /** What so many of the pages of a site have that were found stands around their texts. */
    private const COMMON = 3;
    private const NEAR = 0.6;

    public function __construct(private Engine $engine, private Texts $texts)
    {
    }

    /**
     * The best by a closer look.
     *
     * @param list<Group> $groups
     * @param list<Wanted> $wanted
     *
     * @return list<Group>
     */
    public function ranked(array $groups, array $wanted): array
    {
        $best = \array_slice($groups, 0, self::LOOKED_AT);
        $this->look($best, new Finds($wanted));
        self::weigh($best);
        foreach ($best as $group) {
            $group->score = self::rating($group, \count($wanted))->score;
        }
        usort($best, static fn (Group $a, Group $b): int => [$b->score, $b->best->score, $a->best->text]
            <=> [$a->score, $a->best->score, $b->best->text]);

        return [...$best, ...\array_slice($groups, self::LOOKED_AT)];
    }

    /**
     * Pages that are much alike, under the best of them.
     *
     * @param list<Group> $groups
     *
     * @return list<Group>
     */
    public function folded(array $groups): array
    {
        $likenesses = $this->texts->likenesses(array_map(
            static fn (Group $group): int => $group->best->text,
            \array_slice(array_filter($groups, static fn (Group $group): bool => $group->isOrdered), 0, self::FOLDED),
        ));
        $heads = $kept = [];
        foreach ($groups as $group) {
            $hashes = $likenesses[$group->best->text]->hashes ?? [];
            $same = [];
            foreach ($hashes as $k => $hash) {
                foreach ($heads[$k][$hash] ?? [] as $n) {
                    $same[$n] = ($same[$n] ?? 0) + 1;
                }
            }
            arsort($same);
            $like = array_key_first($same);
            if (null !== $like && $same[$like] >= self::NEAR * Fingerprint::HASHES) {
                ++$kept[$like]->near;
                continue;
            }
            foreach ($hashes as $k => $hash) {
                $heads[$k][$hash][] = \count($kept);
            }
            $kept[] = $group;
        }

        return $kept;
    }

    /**
     * Looks where in their best texts it stands, by the words that the index has of them.
     *
     * @param list<Group> $groups
     */
    public function look(array $groups, Finds $finds): void
    {
        $left = array_filter($groups, static fn (Group $group): bool => null === $group->found);
        $words = $this->engine->words(array_values(array_map(static fn (Group $group): int => $group->best->text, $left)));
        foreach ($left as $group) {
            $group->found = [];
            foreach ($words[$group->best->text] ?? [] as $column => $all) {
                foreach (Writing::segments($all) as $n => $segment) {
                    $here = $finds->inWords($segment);
                    if ([] !== $here) {
                        $group->found[] = new FoundPiece(Texts::PARTS[$column], $n, $here, hash('xxh64', $segment, true));
                    }
                }
            }
        }
    }

    public static function rating(Group $group, int $clauses): Ranking
    {
        return Ranking::of(array_map(
            static fn (FoundPiece $piece): array => [$piece->weighsAs(), $piece->finds], $group->found ?? [],
        ), $clauses);
    }

    /**
     * Which pieces several pages of a site have: its menus, its teasers, its notices.
     *
     * @param list<Group> $groups
     */
    private static function weigh(array $groups): void
    {
        $pages = [];
        foreach ($groups as $n => $group) {
            foreach ($group->found ?? [] as $piece) {
                $pages[$group->best->site.' '.$piece->digest][$n] = true;
            }
        }
        foreach ($groups as $group) {
            foreach ($group->found ?? [] as $piece) {
                $piece->isCommon = Kind::Page === $group->best->kind && Part::Title !== $piece->part
                    && \count($pages[$group->best->site.' '.$piece->digest]) >= self::COMMON;
            }
        }
    }
}
