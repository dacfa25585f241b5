<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Ypomna\App\Access\Gate;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Search\Value\EngineAnswer;
use Ypomna\App\Search\Value\EngineQuestion;
use Ypomna\App\Search\Value\Hit;
use Ypomna\App\Search\Value\Kind;
use Ypomna\App\Search\Value\Order;
use Ypomna\App\Search\Value\Seen;
use Ypomna\App\Shared\Viewer;

/** Asks the index, and gives out what whoever asks may see. Nothing else in the room asks it for texts. */
final readonly class SeenTexts
{
    /** Texts that are for some only, of which each is looked up. */
    private const MOST_LIMITED = 20_000;

    public function __construct(
        private Engine $engine,
        private IndexEntries $entries,
        private Stands $stands,
        private Gate $gate,
        private ItemRepository $items,
    ) {
    }

    /**
     * The texts that somebody sees: what is open to everybody is asked for as such; of what is limited, each is looked up.
     *
     * @throws EngineIsAway
     */
    public function of(Viewer $viewer, EngineQuestion $question): Seen
    {
        $sight = $this->gate->sight($viewer);
        if ($question->countsAlone) {
            return $this->counted($viewer, $question->counting($sight->isOpenOnly() ? true : null, $sight->isWhole()))
                // Those among them are counted by what the index knows.
                ?? $this->of($viewer, $question->withoutCounts());
        }
        if ($sight->isWhole()) {
            $answer = $this->engine->ask($question);
            $ordered = $this->there($viewer, \array_slice($answer->hits, 0, $answer->ordered));
            $others = $this->there($viewer, \array_slice($answer->hits, $answer->ordered));

            return new Seen([...$ordered, ...$others], \count($ordered), $answer->isAll());
        }
        $open = $this->engine->ask(self::limited($question, true, $question->most));
        $stale = $this->entries->stale();
        [$hits, $ordered] = $this->known($viewer, $open, $stale);
        if ($sight->isOpenOnly()) {
            return new Seen($hits, $ordered, $open->isAll());
        }
        $limited = $this->engine->ask(self::limited($question, false, self::MOST_LIMITED));
        $more = $this->visible($viewer, $limited->hits);
        if ([] !== $more) {
            $others = \array_slice($hits, $ordered);
            $hits = self::merged(\array_slice($hits, 0, $ordered), $more, $question->order);
            // Behind the last that is in order nobody knows what comes between.
            $ordered = [] === $others || 0 === $ordered ? \count($hits) : self::lastOf($hits, $more);
            $hits = [...$hits, ...$others];
        }

        return new Seen($hits, $ordered, $open->isAll(), $limited->texts > \count($limited->hits));
    }

    /**
     * What the index counts everybody sees; all others are looked up.
     *
     * @return Seen|null null if it does not know of all who may see them
     */
    private function counted(Viewer $viewer, EngineQuestion $question): ?Seen
    {
        $answer = $this->engine->ask($question);
        if (!$question->isWhole && [] !== $this->entries->stale()) {
            return null;
        }
        $ordered = $this->visible($viewer, \array_slice($answer->hits, 0, $answer->ordered), $question->isWhole);
        $others = $this->visible($viewer, \array_slice($answer->hits, $answer->ordered), $question->isWhole);

        return new Seen([...$ordered, ...$others], \count($ordered), $answer->isAll(), pages: $answer->pages);
    }

    /**
     * Without those that whoever asks does not see: of what is for some only, each is looked up.
     *
     * @param list<Hit> $hits
     *
     * @return list<Hit>
     */
    private function visible(Viewer $viewer, array $hits, bool $isWhole = false): array
    {
        $limited = $isWhole ? [] : array_values(array_filter(
            $hits, static fn (Hit $hit): bool => Kind::Page === $hit->kind && !$hit->isOpen,
        ));
        $reached = $this->stands->reached($viewer, array_map(static fn (Hit $hit): int => $hit->text, $limited));

        return $this->there($viewer, [] === $limited ? $hits : array_values(array_filter(
            $hits, static fn (Hit $hit): bool => $hit->isOpen || Kind::Page !== $hit->kind || isset($reached[$hit->text]),
        )));
    }

    /**
     * Without those of which the index does not know yet that they are not for whoever asks.
     *
     * @param array<int, true> $stale
     *
     * @return array{list<Hit>, int} and how many of them are in order
     */
    private function known(Viewer $viewer, EngineAnswer $answer, array $stale): array
    {
        if ([] === $stale) {
            return [$answer->hits, $answer->ordered];
        }
        $reached = $this->stands->reached($viewer, array_keys($stale));
        $known = [];
        $ordered = 0;
        foreach ($answer->hits as $n => $hit) {
            if (isset($stale[$hit->text]) && !isset($reached[$hit->text])) {
                continue;
            }
            // In which years it stood for everybody, the index will know.
            $known[] = isset($stale[$hit->text]) ? $hit->withoutYears() : $hit;
            $ordered += $n < $answer->ordered ? 1 : 0;
        }

        return [$known, $ordered];
    }

    /**
     * Without items that are gone, or that whoever asks does not see.
     *
     * @param list<Hit> $hits
     *
     * @return list<Hit>
     */
    private function there(Viewer $viewer, array $hits): array
    {
        $items = array_values(array_unique(array_map(
            static fn (Hit $hit): int => $hit->subject, array_filter($hits, static fn (Hit $hit): bool => Kind::Page !== $hit->kind),
        )));
        $seen = [] === $items ? [] : $this->items->seenAmong($viewer, $items);

        return [] === $items ? $hits : array_values(array_filter(
            $hits, static fn (Hit $hit): bool => Kind::Page === $hit->kind || isset($seen[$hit->subject]),
        ));
    }

    private static function limited(EngineQuestion $question, bool $isOpen, int $most): EngineQuestion
    {
        return new EngineQuestion(
            $question->wanted, $question->excluded, $question->onlyDescriptions, $isOpen, $question->kind, $question->subject,
            $question->site, $question->language, $question->year, $question->order, $most,
            $isOpen || 0 === $question->sorted ? $question->sorted : null,
        );
    }

    /**
     * @param list<Hit> $hits in order
     * @param list<Hit> $more those of them of which all are there
     *
     * @return int how many come until the last of the others
     */
    private static function lastOf(array $hits, array $more): int
    {
        $texts = [];
        foreach ($more as $hit) {
            $texts[$hit->text] = true;
        }
        $n = \count($hits);
        while ($n > 0 && isset($texts[$hits[$n - 1]->text])) {
            --$n;
        }

        return $n;
    }

    /**
     * Two lists that are each in order.
     *
     * @param list<Hit> $hits
     * @param list<Hit> $more
     *
     * @return list<Hit>
     */
    private static function merged(array $hits, array $more, Order $order): array
    {
        $all = [...$hits, ...$more];
        usort($all, Order::Relevance === $order
            ? static fn (Hit $a, Hit $b): int => [$b->score, $a->place] <=> [$a->score, $b->place]
            : static fn (Hit $a, Hit $b): int => [$a->sort, $a->place] <=> [$b->sort, $b->place]);

        return $all;
    }
}
