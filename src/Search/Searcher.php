<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Ypomna\App\Access\Gate;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Search\Value\Asked;
use Ypomna\App\Search\Value\EngineQuestion;
use Ypomna\App\Search\Value\FoundPiece;
use Ypomna\App\Search\Value\Group;
use Ypomna\App\Search\Value\Hit;
use Ypomna\App\Search\Value\Kind;
use Ypomna\App\Search\Value\LifeDrawing;
use Ypomna\App\Search\Value\Means;
use Ypomna\App\Search\Value\Order;
use Ypomna\App\Search\Value\PageCounts;
use Ypomna\App\Search\Value\Result;
use Ypomna\App\Search\Value\Results;
use Ypomna\App\Search\Value\SearchWish;
use Ypomna\App\Search\Value\Seen;
use Ypomna\App\Search\Value\Snippet;
use Ypomna\App\Search\Value\Stood;
use Ypomna\App\Search\Value\WordLife;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Search\Clause;
use Ypomna\Core\Search\Find;
use Ypomna\Core\Search\Finds;
use Ypomna\Core\Search\Part;
use Ypomna\Core\Search\Piece;
use Ypomna\Core\Search\Question;
use Ypomna\Core\Search\Wanted;

/** Finds pages by the words that ever stood on them. What whoever asks may not see is in no result and no number. */
final readonly class Searcher
{
    /** Above this it is said that there are more. */
    public const COUNTED = 10_000;
    /** Texts that are looked at; a page has a few. */
    private const MOST_TEXTS = 20_000;
    /** Texts of which it is told how they are called while somebody types. */
    private const NAMED = 60;
    /** Texts that the index puts in order at first. */
    private const SORTED = 150;
    private const MOST_SNIPPETS = 3;
    /** Pages with more captures are not drawn in a list. */
    private const DRAWN = 300;

    public function __construct(
        private Engine $engine,
        private Texts $texts,
        private Vocabulary $vocabulary,
        private SeenTexts $seen,
        private CloseLook $closely,
        private Suggestions $suggestions,
        private Stands $stands,
        private Gate $gate,
        private AddressRepository $addresses,
        private CaptureLists $captures,
        private SearchPlaces $places,
        private ItemRepository $items,
    ) {
    }

    public function isThere(): bool
    {
        return $this->engine->isThere();
    }

    /** @throws EngineIsAway */
    public function find(Viewer $viewer, SearchWish $wish): Results
    {
        // To put thousands in order takes most of the time, and hardly anybody goes that far.
        return $this->found($viewer, $wish, $wish->foldsNear ? CloseLook::FOLDED : self::SORTED) ?? $this->found($viewer, $wish, null)
            ?? throw new \LogicException('All of it is in order.');
    }

    /**
     * @param int|null $sorted so many texts at least are in order; null: all
     *
     * @return Results|null null if what is asked for is not among them
     *
     * @throws EngineIsAway
     */
    private function found(Viewer $viewer, SearchWish $wish, ?int $sorted): ?Results
    {
        $asked = $this->asked($viewer, $wish);
        [$question, $wanted] = [$asked->question, $asked->wanted];
        $ask = new EngineQuestion(
            $wanted, $question->excluded(), $wish->onlyDescriptions, subject: $asked->address, order: $wish->order,
            most: self::MOST_TEXTS + 1, sorted: $sorted,
            countsAlone: null !== $sorted && null === $asked->places && !Facets::isNarrowed($wish),
        );
        $seen = $asked->isNothing ? new Seen([], 0) : $this->seen->of($viewer, $ask);
        $groups = self::groups(
            self::within($seen->hits, $asked->places), $this->gate->sight($viewer)->isWhole(), \array_slice($seen->hits, $seen->ordered),
        );
        self::join($groups, $seen->pages);
        $others = $seen->others() + \count($seen->pages->several ?? []);
        $shown = Facets::isNarrowed($wish)
            ? array_values(array_filter($groups, static fn (Group $group): bool => Facets::fits($group, $wish, null))) : $groups;
        $total = \count($shown) + $others;
        if (!$seen->isAll && null === $asked->places) {
            $total = max($total, $this->counted($viewer, $ask, $wish));
        }
        if (!self::isOrdered($shown, CloseLook::LOOKED_AT, 0 === $others)) {
            return null;
        }
        if (Order::Relevance === $wish->order) {
            $shown = $this->closely->ranked($shown, $wanted);
        }
        if ($wish->foldsNear) {
            $shown = $this->closely->folded($shown);
        }
        $from = self::position($shown, $wish->after);
        if (!self::isOrdered($shown, $from + $wish->limit, 0 === $others)) {
            return null;
        }
        $page = \array_slice($shown, $from, $wish->limit);
        $items = $this->results($viewer, $page, $wanted);

        return new Results(
            min($total, self::COUNTED), $total <= self::COUNTED && !$seen->isCut,
            self::understood($wanted, $question, $this->gate->sight($viewer)->isWhole() ? null : $shown),
            0 === $total && !$asked->isNothing ? $this->suggestions->of($viewer, $wish, $wanted, $asked->address) : null,
            Facets::of($groups, $wish, $seen->pages), $items,
            \count($shown) + $others > $from + $wish->limit && [] !== $page ? self::cursor($page[\count($page) - 1]) : null,
        );
    }

    /**
     * Texts of an address in which all stands that is asked for.
     *
     * @return list<int>
     *
     * @throws EngineIsAway
     */
    public function textsOf(Viewer $viewer, int $address, string $asked): array
    {
        $question = Question::of($asked);
        $wanted = $this->wanted($question);
        if ([] === $wanted) {
            return [];
        }
        $seen = $this->seen->of($viewer, new EngineQuestion(
            $wanted, $question->excluded(), kind: Kind::Page, subject: $address, order: Order::Oldest, most: self::MOST_TEXTS,
        ));

        return array_map(static fn (Hit $hit): int => $hit->text, $seen->hits);
    }

    /**
     * Pages and items that were not found before.
     *
     * @param int $behind number of the last text that was known then
     *
     * @throws EngineIsAway
     */
    public function fresh(Viewer $viewer, SearchWish $wish, int $behind): int
    {
        $asked = $this->asked($viewer, $wish);
        if ($asked->isNothing) {
            return 0;
        }
        $seen = $this->seen->of($viewer, new EngineQuestion(
            $asked->wanted, $asked->question->excluded(), $wish->onlyDescriptions, subject: $asked->address, most: self::MOST_TEXTS + 1,
            sorted: 0,
        ));

        return \count(array_filter(
            self::groups(self::within($seen->hits, $asked->places), $this->gate->sight($viewer)->isWhole()),
            static fn (Group $group): bool => min([$behind + 1, ...$group->texts]) > $behind && Facets::fits($group, $wish, null),
        ));
    }

    /**
     * Pages and items whose titles, addresses and descriptions have words that begin so.
     *
     * @return list<array{name: string, kind: string, code: string, url: string}> kinds as in {@see Kind}; of a page its address
     */
    public function named(Viewer $viewer, string $typed, int $most): array
    {
        $question = Question::of($typed.'*');
        $wanted = $this->wanted($question);
        try {
            $seen = [] === $wanted || !$this->engine->isThere() ? new Seen([], 0) : $this->seen->of(
                $viewer, new EngineQuestion($wanted, $question->excluded(), true, most: self::NAMED, sorted: self::NAMED),
            );
        } catch (EngineIsAway) {
            return [];
        }
        $groups = \array_slice(self::groups($seen->hits, $this->gate->sight($viewer)->isWhole()), 0, $most);
        $pages = array_filter($groups, static fn (Group $group): bool => Kind::Page === $group->best->kind);
        $last = $this->stands->last($viewer, array_values(array_map(static fn (Group $group): int => $group->best->text, $pages)));
        $facts = $this->captures->facts($viewer, array_values($last));
        $addresses = $this->addresses->byNumbers($viewer, self::subjects($pages));
        $items = $this->items->byNumbers($viewer, self::subjects(array_diff_key($groups, $pages)));
        $named = [];
        foreach ($groups as $group) {
            $capture = $facts[$last[$group->best->text] ?? ''] ?? null;
            $item = Kind::Page === $group->best->kind ? null : $items[$group->best->subject] ?? null;
            $code = Kind::Page === $group->best->kind ? $addresses[$group->best->subject]['code'] ?? null : $item?->code;
            if (null !== $code && (null !== $capture || null !== $item)) {
                $named[] = [
                    'name' => (string) ($capture->title ?? $item->title ?? ''), 'kind' => $group->best->kind->word(), 'code' => $code,
                    'url' => $capture->url ?? $item->url ?? '',
                ];
            }
        }

        return $named;
    }

    /** What is looked for in one text. */
    public function finds(string $asked): Finds
    {
        return new Finds($this->wanted(Question::of($asked)));
    }

    private function asked(Viewer $viewer, SearchWish $wish): Asked
    {
        $question = Question::of($wish->asked);
        $wanted = $this->wanted($question);
        $address = null === $wish->address ? null : $this->addresses->byCode($viewer, $wish->address)?->id;
        $places = $this->places->of($viewer, $wish);

        return new Asked(
            $question, $wanted, $address, $places, [] === $wanted || [] === $places || (null !== $wish->address && null === $address)
                || (null !== $wish->kind && null === Kind::named($wish->kind)),
        );
    }

    /** @return list<Wanted> */
    private function wanted(Question $question): array
    {
        $inflected = [];
        foreach ($question->wanted() as $clause) {
            if ($clause->isInflected()) {
                $inflected[] = $clause->words[0];
            }
        }
        $forms = [] === $inflected ? [] : $this->vocabulary->forms(array_values(array_unique($inflected)));

        return array_map(static fn (Clause $clause): Wanted => new Wanted(
            $clause, $clause->isInflected() ? $forms[$clause->words[0]] ?? [$clause->words[0]] : [],
        ), $question->wanted());
    }

    /**
     * @param list<Group> $groups
     * @param bool $isAll whether there are no others
     */
    private static function isOrdered(array $groups, int $first, bool $isAll): bool
    {
        return ($isAll || \count($groups) >= $first)
            && ([] === $groups || $groups[max(0, min(\count($groups), $first) - 1)]->isOrdered);
    }

    /**
     * @param list<Hit> $hits
     * @param array<string, true>|null $places null: everywhere
     *
     * @return list<Hit>
     */
    private static function within(array $hits, ?array $places): array
    {
        return null === $places ? $hits
            : array_values(array_filter($hits, static fn (Hit $hit): bool => isset($places[$hit->kind->value.'.'.$hit->subject])));
    }

    /**
     * @param list<Hit> $hits
     * @param list<Hit> $last those of them that come in no order
     *
     * @return list<Group> in the order of their best texts
     */
    private static function groups(array $hits, bool $isWhole, array $last = []): array
    {
        $groups = $unordered = [];
        foreach ($last as $hit) {
            $unordered[$hit->text] = true;
        }
        foreach ($hits as $hit) {
            $key = $hit->kind->value.'.'.$hit->subject;
            if (!isset($groups[$key])) {
                $groups[$key] = new Group($hit);
                $groups[$key]->isOrdered = !isset($unordered[$hit->text]);
            }
            $group = $groups[$key];
            $group->texts[] = $hit->text;
            foreach ('' === $hit->tags ? [] : explode("\n", $hit->tags) as $tag) {
                $group->tags[$tag] = true;
            }
            $group->years |= $isWhole || !$hit->isOpen ? $hit->allYears : $hit->years;
        }

        return array_values($groups);
    }

    /**
     * Texts of pages that are among the results are theirs, and these are not counted twice.
     *
     * @param list<Group> $groups
     */
    private static function join(array $groups, ?PageCounts $pages): void
    {
        if (null === $pages) {
            return;
        }
        foreach ($groups as $group) {
            $more = Kind::Page === $group->best->kind ? $pages->several[$group->best->subject] ?? null : null;
            if (null !== $more) {
                array_push($group->texts, ...$more->texts);
                $group->tags += $more->tags;
                $group->years |= $more->years;
                unset($pages->several[$group->best->subject]);
            }
        }
    }

    /** Where there are too many to be looked at one by one, the index counts. */
    private function counted(Viewer $viewer, EngineQuestion $question, SearchWish $wish): int
    {
        return $this->engine->subjects(new EngineQuestion(
            $question->wanted, $question->excluded, $question->onlyDescriptions, $this->gate->sight($viewer)->isWhole() ? null : true,
            null === $wish->kind ? null : Kind::named($wish->kind), $question->subject, $wish->site, $wish->language, $wish->year,
        ));
    }

    /**
     * @param list<Group> $groups
     * @param list<Wanted> $wanted
     *
     * @return list<Result>
     */
    private function results(Viewer $viewer, array $groups, array $wanted): array
    {
        $finds = new Finds($wanted);
        $pages = array_filter($groups, static fn (Group $group): bool => Kind::Page === $group->best->kind);
        $addresses = $this->addresses->byNumbers($viewer, self::subjects($pages));
        [$lives, $stood, $last] = $this->lives($viewer, $pages, $addresses);
        $this->closely->look($groups, $finds);
        $pieces = $this->texts->pieces(array_map(static fn (Group $group): int => $group->best->text, $groups));
        $facts = $this->captures->facts($viewer, array_values($last));
        $items = $this->items->byNumbers($viewer, self::subjects(array_diff_key($groups, $pages)));
        $results = [];
        foreach ($groups as $n => $group) {
            $snippets = self::snippets($group->found ?? [], $pieces[$group->best->text] ?? [], $finds);
            $why = CloseLook::rating($group, \count($wanted));
            $capture = $facts[$last[$group->best->text] ?? ''] ?? null;
            $code = $addresses[$group->best->subject]['code'] ?? null;
            $item = $items[$group->best->subject] ?? null;
            if (Kind::Page !== $group->best->kind && null !== $item) {
                $results[] = new Result(
                    $group->best->kind, $item->code, $item->title, $item->url ?? '', $group->best->site, null, null, false,
                    new Stood($item->createdAt, $item->changedAt, 0, 0), $snippets, self::cursor($group), why: $why,
                );
            } elseif (Kind::Page === $group->best->kind && null !== $capture && null !== $code && isset($stood[$n])) {
                // Otherwise it was taken away from whoever asks, between the question and now.
                $results[] = new Result(
                    $group->best->kind, $code, $capture->title ?? '', $capture->url, $group->best->site, $capture->code,
                    $capture->capturedAt, $capture->hasPicture, $stood[$n], $snippets, self::cursor($group),
                    LifeDrawing::of(WordLife::of($lives[$group->best->subject] ?? [], array_fill_keys($group->texts, true))),
                    $group->near, $why,
                );
            }
        }

        return $results;
    }

    /**
     * When it stood on pages. Of those with few captures all are looked at, which answers everything at once.
     *
     * @param array<int, Group> $pages
     * @param array<int, array{code: string, captures: int}> $addresses
     *
     * @return array{array<int, list<array{text: int, at: \DateTimeImmutable, code: string}>>, array<int, Stood>, array<int, string>}
     *     captures of those that have few, by address; when it stood, by number of the page; code of the last capture, by text
     */
    private function lives(Viewer $viewer, array $pages, array $addresses): array
    {
        $lives = $this->stands->capturesOf($viewer,
            array_keys(array_filter($addresses, static fn (array $one): bool => $one['captures'] <= self::DRAWN)));
        $many = array_filter($pages, static fn (Group $group): bool => !isset($lives[$group->best->subject]));
        $stood = $this->stands->of($viewer, array_map(static fn (Group $group): array => $group->texts, $many));
        $last = $this->stands->last($viewer, array_values(array_map(static fn (Group $group): int => $group->best->text, $many)));
        foreach (array_diff_key($pages, $many) as $n => $group) {
            $of = Stood::of($lives[$group->best->subject], $group->texts);
            if (null !== $of) {
                $stood[$n] = $of;
            }
            foreach ($lives[$group->best->subject] as $capture) {
                if ($capture['text'] === $group->best->text) {
                    $last[$group->best->text] = $capture['code'];
                }
            }
        }

        return [$lives, $stood, $last];
    }

    /**
     * @param list<FoundPiece> $found
     * @param list<Piece> $pieces all of the text
     *
     * @return list<Snippet> in the order of the page
     */
    private static function snippets(array $found, array $pieces, Finds $finds): array
    {
        // What its title and its description say is seen anyhow, and what all pages of its site say tells nothing of it.
        $inside = array_filter(
            $found,
            static fn (FoundPiece $one): bool => !$one->isCommon && !\in_array($one->part, [Part::Title, Part::About], true),
        );
        $rated = [];
        foreach ([] === $inside ? $found : $inside as $n => $one) {
            $clauses = \count(array_unique(array_map(static fn (Find $find): int => $find->clause, $one->finds)));
            $rated[$n] = [$clauses, Part::Rest === $one->weighsAs() ? 0 : 1, -$n];
        }
        uasort($rated, static fn (array $a, array $b): int => $b <=> $a);
        $snippets = [];
        foreach (\array_slice(array_keys($rated), 0, self::MOST_SNIPPETS) as $n) {
            $part = $found[$n]->part;
            $piece = array_values(array_filter($pieces, static fn (Piece $one): bool => $part === $one->part))[$found[$n]->nth] ?? null;
            $here = null === $piece ? [] : $finds->where($piece->text, $found[$n]->finds);
            if (null !== $piece && [] !== $here) {
                [$text, $marks] = Finds::cut($piece->text, $here);
                $snippets[] = [array_search($piece, $pieces, true), new Snippet($text, $marks, $piece->passage, Means::of($piece->part))];
            }
        }
        usort($snippets, static fn (array $a, array $b): int => $a[0] <=> $b[0]);

        return array_column($snippets, 1);
    }

    /**
     * Of other forms of a word, whoever does not see everything is told those that stand in what was found: all others are words of texts
     * that they may not see, or of none.
     *
     * @param list<Wanted> $wanted
     * @param list<Group>|null $shown what was found; null if all forms are told
     */
    private static function understood(array $wanted, Question $question, ?array $shown): string
    {
        $there = [];
        foreach ($shown ?? [] as $group) {
            foreach ($group->found ?? [] as $piece) {
                foreach ($piece->finds as $find) {
                    $there[$find->form] = true;
                }
            }
        }
        $parts = array_map(static function (Wanted $one) use ($shown, $there): string {
            $clause = $one->clause;
            $words = implode(' ', $clause->words);
            $forms = array_filter(
                $one->forms, static fn (string $form): bool => null === $shown || $form === $words || isset($there[$form]),
            );

            return $clause->isBeginning ? $words.'*' : (\count($clause->words) > 1 ? '"'.$words.'"'
                : ([] === $forms ? $words : implode(' | ', $forms)));
        }, $wanted);
        foreach ($question->excluded() as $clause) {
            $words = implode(' ', $clause->words).($clause->isBeginning ? '*' : '');
            $parts[] = '-'.(\count($clause->words) > 1 ? '"'.$words.'"' : $words);
        }

        return implode(' & ', $parts).($question->isCut ? ' …' : '');
    }

    /**
     * @param array<int, Group> $groups
     *
     * @return list<int>
     */
    private static function subjects(array $groups): array
    {
        return array_values(array_map(static fn (Group $group): int => $group->best->subject, $groups));
    }

    private static function cursor(Group $group): string
    {
        return $group->key();
    }

    /** @param list<Group> $groups */
    private static function position(array $groups, ?string $after): int
    {
        if (null === $after) {
            return 0;
        }
        foreach ($groups as $n => $group) {
            if ($group->key() === $after) {
                return $n + 1;
            }
        }

        return \count($groups);
    }
}
