<?php

declare(strict_types=1);

namespace Ypomna\Core\Annotation;

use Ypomna\Core\Compare\Alignment;
use Ypomna\Core\Compare\ChangeKind;
use Ypomna\Core\Compare\Noise\InvalidRule;
use Ypomna\Core\Compare\Noise\Selector;
use Ypomna\Core\Compare\TextComparison;
use Ypomna\Core\Compare\TextLikeness;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\PassageKind;

/**
 * Where marks that were made on one capture stand on another.
 *
 * Where the page is known that a mark was made on, the comparison of both tells which passage is which, and the words of both
 * passages are laid beside each other. Where it is not, or the passage has no counterpart, the marked words with what stood around
 * them are laid into those places of the page that have most of their words; they may stand there, or others in their stead.
 */
final class Placing
{
    /** What stands around a mark on its own page, in bytes of folded text on each side. */
    private const AROUND = 160;
    /** Places of the same words that are looked at. */
    private const MOST_OCCURRENCES = 5_000;
    /** Passages with less in common are not rewordings of each other; less will do between the same neighbours. */
    private const LIKE_ALONE = 0.36;
    /** Across the page a stricter measure holds: there chance finds more likenesses. */
    private const LIKE_ELSEWHERE = 0.78;
    private const HARDLY_LIKE = 0.2;

    private readonly PageText $page;
    private readonly ?PageText $from;
    private readonly TextLikeness $likeness;
    /** @var array<int, int> of old passages, the new one */
    private readonly array $partners;
    /** @var array<int, int> of new passages, the old one */
    private readonly array $origins;
    /** @var array<int, true> old passages that stand elsewhere now */
    private readonly array $moved;

    private function __construct(Document $page, ?Document $from)
    {
        $this->page = new PageText($page->passages);
        $this->from = null === $from ? null : new PageText($from->passages);
        $this->likeness = new TextLikeness();
        $moved = $partners = [];
        if (null !== $from) {
            $difference = TextComparison::of($from->passages, $page->passages);
            $partners = $difference->partners;
            foreach ($difference->changes as $change) {
                if (null !== $change->oldAt && ($change->moved || ChangeKind::Moved === $change->kind)) {
                    $moved[$change->oldAt] = true;
                }
            }
        }
        $origins = [];
        foreach ($partners as $i => $j) {
            $origins[$j] ??= $i;
        }
        [$this->partners, $this->origins, $this->moved] = [$partners, $origins, $moved];
    }

    /**
     * @param list<Mark> $marks
     * @param Document|null $from the page that they were made on
     *
     * @return list<Placement> one for each mark, in their order
     */
    public static function all(array $marks, Document $page, ?Document $from = null): array
    {
        $placing = new self($page, $from);
        $quotes = array_map($placing->known(...), $marks);
        $index = new WordIndex($placing->page,
            array_map(static fn (Sought $one): Quote => $one->quote, array_values(array_filter($quotes))));

        return array_map(static fn (Mark $mark, ?Sought $sought): Placement => $placing->place($mark, $sought, $index), $marks, $quotes);
    }

    /** What is looked for: the words with what stands around them on their own page, where that is known. */
    private function known(Mark $mark): ?Sought
    {
        if (null !== $mark->problem) {
            return null;
        }
        $at = null === $this->from ? null : $this->onOldPage($this->from, $mark);
        if (null === $at || null === $this->from) {
            return null === $mark->quote ? null : new Sought($mark->quote);
        }
        [$a, $b] = $at;
        $folded = $this->from->folded;
        $left = self::whole($folded, max(0, $a - self::AROUND));
        $right = self::whole($folded, min(\strlen($folded), $b + self::AROUND));

        return new Sought(new Quote(
            $this->from->between($a, $b),
            ($left < $a ? $this->from->between($left, $a) : '').($this->from->isInWord($a) ? '' : ' '),
            ($this->from->isInWord($b) ? '' : ' ').($right > $b ? $this->from->between($b, $right) : ''),
        ), $a, $b);
    }

    /** A place that is no middle of a character. */
    private static function whole(string $text, int $byte): int
    {
        while (0x80 === (\ord($text[$byte] ?? 'a') & 0xC0)) {
            ++$byte;
        }

        return $byte;
    }

    /** @return array{int, int}|null where the mark stands on the page that it was made on */
    private function onOldPage(PageText $old, Mark $mark): ?array
    {
        $quote = $mark->quote;
        if (null === $quote) {
            $a = $old->byteAt($mark->start ?? 0);
            $b = $old->byteAt($mark->end ?? 0);

            return $a < $b ? [$a, $b] : null;
        }
        if ('' === $quote->exact) {
            return self::gap($old, $quote);
        }
        $found = $this->best($old, $quote, $mark);

        return null === $found ? null : [$found->at, $found->at + \strlen($quote->words())];
    }

    /** @return array{int, int}|null what stands between the two surroundings of a quotation without words */
    private static function gap(PageText $page, Quote $quote): ?array
    {
        $prefix = PageText::fold($quote->prefix);
        $a = strpos($page->folded, $prefix);
        $b = false === $a ? false : strpos($page->folded, PageText::fold($quote->suffix), $a + \strlen($prefix));

        return false === $a || false === $b || $b === $a + \strlen($prefix) ? null : [$a + \strlen($prefix), $b];
    }

    private function place(Mark $mark, ?Sought $sought, WordIndex $index): Placement
    {
        $moved = null === $this->from ? null : false;
        if (null === $sought) {
            return new Placement($mark->id, null, moved: $moved, problem: $mark->problem ?? (null === $this->from
                ? 'A position alone says nothing about another page; give the page that the mark was made on with --from.'
                : 'The position of the mark lies beyond the end of the page that it was made on.'));
        }
        $quote = $sought->quote;
        if ('' === $quote->exact) {
            $gap = self::gap($this->page, $quote);

            return null === $gap ? $this->gone($mark->id, null, $moved) : $this->at($mark->id, $gap[0], $gap[1], Place::Same, 1.0, $moved);
        }

        return $this->byPartners($mark, $sought, $index) ?? $this->byWords($mark, $sought, $index);
    }

    private function at(?string $id, int $a, int $b, Place $place, float $likeness, ?bool $moved): Placement
    {
        $passage = $this->page->passageAt($a);

        return new Placement(
            $id, $place, $this->page->between($a, $b), $this->page->passages[$passage]->text, $this->page->startPoint($a),
            $this->page->endPoint($b), $likeness, $moved, passageNumber: $passage,
        );
    }

    private function gone(?string $id, ?int $passage, ?bool $moved): Placement
    {
        return new Placement(
            $id, Place::Gone, passage: null === $passage ? null : $this->page->passages[$passage]->text, moved: $moved,
            passageNumber: $passage,
        );
    }

    private function reworded(Mark $mark, Quote $quote, int $a, int $b, ?bool $moved): Placement
    {
        return $this->at($mark->id, $a, $b, Place::Reworded, min(0.99, round($this->like($quote, $a, $b), 4)), $moved);
    }

    private function like(Quote $quote, int $a, int $b): float
    {
        return $this->likeness->of($quote->exact, strtr($this->page->between($a, $b), "\n", ' '));
    }

    /** By the passage that the comparison of both pages found for the one that the mark stands in. */
    private function byPartners(Mark $mark, Sought $sought, WordIndex $index): ?Placement
    {
        if (null === $this->from || null === $sought->from || null === $sought->to) {
            return null;
        }
        [$a, $b, $quote] = [$sought->from, $sought->to, $sought->quote];
        $first = $this->from->passageAt($a);
        $last = $this->from->passageAt($b - 1);
        $there = array_values(array_intersect_key($this->partners, array_flip(range($first, $last))));
        if ([] === $there) {
            return null;
        }
        [$low, $high] = [min($there), max($there)];
        if ($high - $low > 3 * ($last - $first) + WordIndex::MOST_PASSAGES) {
            return null;
        }
        $moved = isset($this->moved[$first]);
        // What is only parted otherwise now may begin in the passage beside.
        $near = $this->sameNear($quote, $low, $high);
        if (null !== $near) {
            return $this->at($mark->id, $near, $near + \strlen($quote->words()), Place::Same, 1.0, $moved);
        }
        $old = Tokens::ofPassages($this->from, $first, $last);
        $new = Tokens::ofPassages($this->page, $low, $high);
        $weights = [];
        foreach ($old->texts as $token) {
            $weights[$token] = Tokens::weight($token);
        }
        $words = new Correspondence($old, $new, Alignment::of($old->texts, $new->texts, $weights), true);
        $now = $words->map($a, $b);
        $start = $this->page->startOf($low);
        $end = $this->page->endOf($high);
        if (null !== $now && $now[0] < $now[1] && substr($this->page->folded, $now[0], $now[1] - $now[0]) === $quote->words()) {
            return $this->at($mark->id, $now[0], $now[1], Place::Same, 1.0, $moved);
        }
        foreach ($this->occurrences($this->page, $quote, $start, $end) as $at) {
            if (!$words->isOutside($at, $at + \strlen($quote->words()), $a, $b)) {
                return $this->at($mark->id, $at, $at + \strlen($quote->words()), Place::Same, 1.0, $moved);
            }
        }
        // Of a whole passage the whole passage is what stands in its stead.
        $isWhole = $a === $this->from->startOf($first) && $b === $this->from->endOf($last);
        $now = $isWhole && null !== $now && $now[0] < $now[1] ? [$start, $end] : $now;
        if (null === $now) {
            return $this->reworded($mark, $quote, $start, $this->page->endOf($low), $moved);
        }
        if ($now[0] === $now[1]) {
            return $this->byWordsElsewhere($mark, $sought, $index) ?? $this->gone($mark->id, $low, $moved);
        }
        if ($isWhole && $this->isReplaced($quote, $now)) {
            return $this->gone($mark->id, null, $moved);
        }

        return $this->reworded($mark, $quote, $now[0], $now[1], $moved);
    }

    /**
     * Whether a whole heading or the like made way for another that stands in its place and says something else.
     *
     * @param array{int, int} $now
     */
    private function isReplaced(Quote $quote, array $now): bool
    {
        return PassageKind::Cell !== $this->page->passages[$this->page->passageAt($now[0])]->kind
            && Tokens::of($quote->exact)->count() > 2 && $this->like($quote, $now[0], $now[1]) < self::HARDLY_LIKE;
    }

    /** Where the words stand, with all that stood around them, in a passage or beside it. */
    private function sameNear(Quote $quote, int $low, int $high): ?int
    {
        $found = [];
        foreach ($this->occurrences(
            $this->page, $quote, $this->page->startOf(max(0, $low - 2)), $this->page->endOf(min($this->page->count() - 1, $high + 2)),
        ) as $at) {
            $one = Occurrence::of($this->page, $quote, $at);
            if ($one->left >= min(24, $one->allLeft) && $one->right >= min(24, $one->allRight)) {
                $found[] = $at;
            }
        }

        return 1 === \count($found) ? $found[0] : null;
    }

    /** The words in another place, which they came to from the place where they stood. */
    private function byWordsElsewhere(Mark $mark, Sought $sought, WordIndex $index): ?Placement
    {
        if (!$sought->quote->isTelling()) {
            return null;
        }
        $found = $this->byWords($mark, $sought, $index);

        return Place::Same === $found->place ? $found : null;
    }

    /** By the marked words and what stood around them alone. */
    private function byWords(Mark $mark, Sought $sought, WordIndex $index): Placement
    {
        $quote = $sought->quote;
        $length = \strlen($quote->words());
        $moved = null === $this->from ? null : null !== $sought->from;
        $found = $this->best($this->page, $quote, $mark, $sought);
        if (null !== $found && ($found->isWhole() || '' === $quote->prefix.$quote->suffix)) {
            return $this->at($mark->id, $found->at, $found->at + $length, Place::Same, 1.0, $moved);
        }
        if (null !== $found && ($quote->isTelling() || $found->hasWholeSide() || $this->isWholeSentence($quote, $found->at))) {
            return $this->at($mark->id, $found->at, $found->at + $length, Place::Same, 1.0, $moved);
        }
        $windows = $index->windows($quote, null === $found ? null : $this->page->passageAt($found->at));
        if (null !== $found && $found->isRight() && ([] === $windows || $found->weight($quote) >= $windows[0]->around($quote))) {
            return $this->at($mark->id, $found->at, $found->at + $length, Place::Same, 1.0, $moved);
        }
        foreach ($windows as $window) {
            $placed = $this->inWindow($mark, $sought, $window, $moved);
            if (null !== $placed) {
                return $placed;
            }
        }
        if (null !== $found && $found->isRight()) {
            return $this->at($mark->id, $found->at, $found->at + $length, Place::Same, 1.0, $moved);
        }

        return $this->gone($mark->id, null, null === $moved ? null : false);
    }

    /** Whether some words stand as a sentence of their own, and nowhere else. */
    private function isWholeSentence(Quote $quote, int $at): bool
    {
        $passage = $this->page->passageAt($at);

        return PassageKind::Sentence === $this->page->passages[$passage]->kind && $at === $this->page->startOf($passage)
            && $at + \strlen($quote->words()) === $this->page->endOf($passage)
            && preg_match_all('/\p{L}+/u', $quote->exact) >= 3 && 1 === \count($this->occurrences($this->page, $quote));
    }

    /** @return list<int> places of the words, in bytes, that are no pieces of other words */
    private function occurrences(PageText $page, Quote $quote, int $from = 0, int $to = \PHP_INT_MAX): array
    {
        $words = $quote->words();
        $length = \strlen($words);
        $before = mb_substr($quote->text, 0, mb_strlen($quote->prefix));
        $isPieceLeft = '' !== $before && Tokens::isInWord(mb_substr($before, -2), mb_substr($quote->text, mb_strlen($before), 2));
        $after = mb_substr($quote->text, mb_strlen($quote->text) - mb_strlen($quote->suffix));
        $isPieceRight = '' !== $after && Tokens::isInWord(
            mb_substr(mb_substr($quote->text, 0, mb_strlen($quote->text) - mb_strlen($quote->suffix)), -2), mb_substr($after, 0, 2),
        );
        $found = [];
        $to = min($to, \strlen($page->folded));
        $tries = 0;
        for ($at = $from; $at + $length <= $to && ++$tries <= self::MOST_OCCURRENCES; ++$at) {
            $at = strpos($page->folded, $words, $at);
            if (false === $at || $at + $length > $to) {
                break;
            }
            if (($isPieceLeft || !$page->isInWord($at)) && ($isPieceRight || !$page->isInWord($at + $length))) {
                $found[] = $at;
            }
        }

        return $found;
    }

    /** Of all places of the words the one whose surroundings are most like those that are meant; null if there is none. */
    private function best(PageText $page, Quote $quote, Mark $mark, ?Sought $sought = null): ?Occurrence
    {
        $best = null;
        $hint = $mark->start;
        $around = self::selector($mark->around);
        $rank = static fn (Occurrence $one): array => [
            $one->left + $one->right,
            null !== $around && $around->matches($page->passages[$page->passageAt($one->at)]->path) ? 1 : 0,
            null === $hint ? 0 : -abs($page->startPoint($one->at) - $hint),
        ];
        foreach ($this->occurrences($page, $quote) as $at) {
            if (null !== $sought && $this->isTaken($sought, $at, $quote->words())) {
                continue;
            }
            $one = Occurrence::of($page, $quote, $at);
            if (null === $best || $rank($one) > $rank($best)) {
                $best = $one;
            }
        }

        return $best;
    }

    private static function selector(?string $written): ?Selector
    {
        try {
            return null === $written ? null : Selector::parse($written);
        } catch (InvalidRule) {
            return null;
        }
    }

    /** Whether a place belongs to another passage of the page that the mark was made on, which had the words, if some are given, too. */
    private function isTaken(Sought $sought, int $at, ?string $words): bool
    {
        $origin = null === $this->from || null === $sought->from ? null : $this->origins[$this->page->passageAt($at)] ?? null;
        if (null === $this->from || null === $origin) {
            return false;
        }
        $isOwn = $origin >= $this->from->passageAt($sought->from ?? 0) && $origin <= $this->from->passageAt(($sought->to ?? 1) - 1);

        return !$isOwn && (null === $words || str_contains(
            substr($this->from->folded, $this->from->startOf($origin), $this->from->endOf($origin) - $this->from->startOf($origin)), $words,
        ));
    }

    /** What became of the mark in a stretch of the page; null if it does not stand there. */
    private function inWindow(Mark $mark, Sought $sought, Window $window, ?bool $moved): ?Placement
    {
        $quote = $sought->quote;
        $words = $window->words;
        [$a, $b, $all] = [$quote->from, $quote->to, \strlen($quote->folded)];
        $isRightLeft = self::isRight($words->stayed(0, $a), $words->weight(0, $a));
        $isRightRight = self::isRight($words->stayed($b, $all), $words->weight($b, $all));
        $now = $words->map($a, $b);
        if (null === $now) {
            return $this->inPassage($mark, $sought, $window, $moved, $isRightLeft || $isRightRight);
        }
        if ($now[0] === $now[1]) {
            return $this->takenOut($mark, $quote, $words, $moved, $isRightLeft && $isRightRight);
        }
        $begin = $this->page->startOf($this->page->passageAt($now[0]));
        $end = $this->page->endOf($this->page->passageAt($now[1] - 1));
        if (0 === $this->around($quote, $words, $now[0], $now[1]) && $words->staysBefore($a) && $words->staysAfter($b)) {
            // All around stands in other passages: what was marked was the whole passage.
            $now = [$begin, $end];
        }
        $same = $this->sameIn($quote, $now);
        if (null !== $same) {
            return !$this->isTaken($sought, $same, $quote->words()) && $this->isMeant($sought, $words, $same, $isRightLeft || $isRightRight)
                ? $this->at($mark->id, $same, $same + $b - $a, Place::Same, 1.0, $moved)
                : null;
        }
        if ($this->isTaken($sought, $now[0], null)) {
            return null;
        }
        if ($this->stands($quote, $words, $now, $isRightLeft, $isRightRight)) {
            return $this->reworded($mark, $quote, $now[0], $now[1], $moved);
        }

        // Its neighbours stand, and something else between them.
        return $isRightLeft && $isRightRight && $words->staysBefore($a) && $words->staysAfter($b) && !$quote->isTelling()
            ? $this->gone($mark->id, null, null === $moved ? null : false)
            : null;
    }

    /** Whether enough of one side of the surroundings is left, by weight. */
    private static function isRight(int $stayed, int $all): bool
    {
        return $all > 0 && 2 * $stayed >= $all && $stayed >= min(6, $all);
    }

    /**
     * Where the marked words themselves stand, with or without others put in beside them.
     *
     * @param array{int, int} $now
     */
    private function sameIn(Quote $quote, array $now): ?int
    {
        $text = substr($this->page->folded, $now[0], $now[1] - $now[0]);
        $places = $this->occurrences($this->page, $quote, $now[0], $now[1]);
        foreach ($places as $at) {
            $isAtEdge = $at === $now[0] || $at + \strlen($quote->words()) === $now[1];
            if ($text === $quote->words() || $isAtEdge || $quote->isTelling() || Occurrence::of($this->page, $quote, $at)->isRight()) {
                return $at;
            }
        }

        return null;
    }

    /** Whether the words that stand somewhere are those that are meant, not the same ones by chance. */
    private function isMeant(Sought $sought, Correspondence $words, int $at, bool $isRight): bool
    {
        $quote = $sought->quote;
        if ($quote->isTelling() || Occurrence::of($this->page, $quote, $at)->isRight()) {
            return true;
        }
        if (!$isRight || null !== $sought->from) {
            return false;
        }
        $end = $at + \strlen($quote->words());

        return $words->lastStayedBefore($quote->from) === $at || $words->firstStayedAfter($quote->to) === $end
            || $this->around($quote, $words, $at, $end) >= $this->least($quote, $words);
    }

    /** What stayed of the surroundings in the passages in which the words stand now. */
    private function around(Quote $quote, Correspondence $words, int $from, int $to): int
    {
        $begin = $this->page->startOf($this->page->passageAt($from));
        $end = $this->page->endOf($this->page->passageAt($to - 1));

        return $words->stayed(0, $quote->from, $begin, $from) + $words->stayed($quote->to, \strlen($quote->folded), $to, $end);
    }

    private function least(Quote $quote, Correspondence $words): int
    {
        return 2 + (int) ceil($words->weight($quote->from, $quote->to) / 4);
    }

    /**
     * Whether what stands in the place of the marked words is a rewording of them, or of the passage around them.
     *
     * @param array{int, int} $now
     */
    private function stands(Quote $quote, Correspondence $words, array $now, bool $isRightLeft, bool $isRightRight): bool
    {
        $like = $this->like($quote, $now[0], $now[1]);
        $first = $this->page->passageAt($now[0]);
        $last = $this->page->passageAt($now[1] - 1);
        $begin = $this->page->startOf($first);
        $end = $this->page->endOf($last);
        $beside = [$words->staysBefore($quote->from), $words->staysAfter($quote->to)];
        $isWhole = $now === [$begin, $end];
        // A few words that make a passage of their own are known by their neighbours alone.
        if (($isRightLeft || $isRightRight ? $like >= self::LIKE_ALONE : $like >= self::LIKE_ELSEWHERE && $quote->isTelling())
            && (!$isWhole || $quote->isTelling() || ($beside[0] && $beside[1]))) {
            return true;
        }
        if ($isWhole) {
            // A cell between the same cells is the same cell; of others the words tell.
            $kind = $this->page->passages[$first]->kind;

            return $first === $last && $beside[0] && $beside[1] && (PassageKind::Cell === $kind
                || ($like >= self::HARDLY_LIKE && \in_array($kind, [PassageKind::Heading, PassageKind::Term, PassageKind::Caption], true)));
        }
        $around = $this->around($quote, $words, $now[0], $now[1]);
        $least = $this->least($quote, $words);

        return $around >= ($beside[0] && $beside[1] ? intdiv($least + 1, 2) : $least);
    }

    /** Words that were taken out of a passage that stands; null if that passage is not this one. */
    private function takenOut(Mark $mark, Quote $quote, Correspondence $words, ?bool $moved, bool $isRight): ?Placement
    {
        $before = $words->lastStayedBefore($quote->from);
        $after = $words->firstStayedAfter($quote->to);
        if (null === $before || null === $after || !$isRight || $before !== $after) {
            return null;
        }
        $passage = $this->page->passageAt(max(0, $before - 1));

        return $this->gone($mark->id, $passage === $this->page->passageAt($after) ? $passage : null, null === $moved ? null : false);
    }

    /** The passage as a whole, where it stands and cannot be told which of its words replaced the marked ones. */
    private function inPassage(Mark $mark, Sought $sought, Window $window, ?bool $moved, bool $isRight): ?Placement
    {
        $quote = $sought->quote;
        $before = $window->words->lastStayedBefore($quote->from);
        $after = $window->words->firstStayedAfter($quote->to);
        $passage = null;
        if (null !== $before && $before < $this->page->endOf($this->page->passageAt(max(0, $before - 1)))) {
            $passage = $this->page->passageAt(max(0, $before - 1));
        } elseif (null !== $after && $after > $this->page->startOf($this->page->passageAt($after))) {
            $passage = $this->page->passageAt($after);
        }
        if (null === $passage || !$isRight || $this->isTaken($sought, $this->page->startOf($passage), null)) {
            return null;
        }
        $start = $this->page->startOf($passage);
        $end = $this->page->endOf($passage);
        $stayed = $window->words->stayed(0, \strlen($quote->folded), $start, $end);
        $all = array_sum(array_map(Tokens::weight(...), Tokens::of($this->page->passages[$passage]->text)->texts));

        return $stayed >= self::LIKE_ALONE * $all && $stayed > 4 ? $this->reworded($mark, $quote, $start, $end, $moved) : null;
    }
}
