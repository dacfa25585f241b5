<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Ypomna\App\Access\Gate;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Search\Value\EngineQuestion;
use Ypomna\App\Search\Value\Hit;
use Ypomna\App\Search\Value\Kind;
use Ypomna\App\Search\Value\Order;
use Ypomna\App\Shared\Viewer;

/** Asks the index, and gives out what whoever asks may see. Nothing else in the room asks it for texts. */
final readonly class SeenTexts
{
    /** Texts that are for some only, of which each is looked up. */
    private const MOST_LIMITED = 20_000;

    public function __construct(
        private Engine $engine,
        private Texts $texts,
        private Stands $stands,
        private Gate $gate,
        private ItemRepository $items,
    ) {
    }

    /**
     * The texts that somebody sees: what is open to everybody is asked for as such; of what is limited, each is looked up.
     *
     * @return array{list<Hit>, bool, bool, int} whether these are all that the index has, whether some were not looked up, and how many
     *     from the first on are in order
     */
    public function of(Viewer $viewer, EngineQuestion $question): array
    {
        $sight = $this->gate->sight($viewer);
        if ($sight->isWhole()) {
            $answer = $this->engine->ask($question);

            $ordered = $this->there($viewer, \array_slice($answer->hits, 0, $answer->ordered));
            $others = $this->there($viewer, \array_slice($answer->hits, $answer->ordered));

            return [[...$ordered, ...$others], $answer->texts <= \count($answer->hits), false, \count($ordered)];
        }
        $open = $this->engine->ask(self::limited($question, true, $question->most));
        $hits = $open->hits;
        $isAll = $open->texts <= \count($hits);
        $ordered = $open->ordered;
        $stale = $this->texts->stale();
        if ([] !== $stale) {
            $reached = $this->stands->reached($viewer, array_keys($stale));
            $known = [];
            $ordered = 0;
            foreach ($hits as $n => $hit) {
                $before = \count($known);
                if (!isset($stale[$hit->text])) {
                    $known[] = $hit;
                } elseif (isset($reached[$hit->text])) {
                    // In which years it stood for everybody, the index will know.
                    $known[] = $hit->withoutYears();
                }
                $ordered += $n < $open->ordered ? \count($known) - $before : 0;
            }
            $hits = $known;
        }
        $isCut = false;
        if (!$sight->isOpenOnly()) {
            $limited = $this->engine->ask(self::limited($question, false, self::MOST_LIMITED));
            $isCut = $limited->texts > \count($limited->hits);
            $reached = $this->stands->reached($viewer, array_values(array_map(
                static fn (Hit $hit): int => $hit->text,
                array_filter($limited->hits, static fn (Hit $hit): bool => Kind::Page === $hit->kind),
            )));
            $more = $this->there($viewer, array_values(array_filter(
                $limited->hits, static fn (Hit $hit): bool => Kind::Page !== $hit->kind || isset($reached[$hit->text]),
            )));
            if ([] !== $more) {
                $others = \array_slice($hits, $ordered);
                $hits = self::merged(\array_slice($hits, 0, $ordered), $more, $question->order);
                // Behind the last that is in order nobody knows what comes between.
                $last = [] === $others || 0 === $ordered ? null : self::lastOf($hits, $more);
                $ordered = null === $last ? \count($hits) : $last;
                $hits = [...$hits, ...$others];
            }
        }

        return [$hits, $isAll, $isCut, $ordered];
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
            $question->site, $question->language, $question->year, $question->order, $most, $isOpen ? $question->sorted : null,
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
        if (Order::Relevance === $order) {
            usort($all, static fn (Hit $a, Hit $b): int => [$b->score, $a->text] <=> [$a->score, $b->text]);
        } else {
            $place = array_flip(array_map(static fn (Hit $hit): int => $hit->text, $all));
            usort($all, static fn (Hit $a, Hit $b): int => [$a->sort, $place[$a->text]] <=> [$b->sort, $place[$b->text]]);
        }

        return $all;
    }
}
