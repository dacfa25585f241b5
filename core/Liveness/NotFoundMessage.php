<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

use Ypomna\Core\Completeness\Saying;
use Ypomna\Core\Completeness\TroubleWords;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Passage;
use Ypomna\Core\Page\PassageKind;
use Ypomna\Core\Split;

/**
 * A page taken for a message that nothing is there (any more). That it says so is not enough: a report about dead links says
 * so, too. What counts is where it says it, how plainly, and how little it has to say beside that.
 */
final readonly class NotFoundMessage
{
    /** So many words of its own a page may have that says plainly in a heading, plainly in its text, or perhaps, that it is none. */
    private const OWN = ['heading' => 45, 'text' => 25, 'perhaps' => 12];
    /** The same where the text that is held is lost. */
    private const OWN_OF_LOST = ['heading' => 90, 'text' => 60, 'perhaps' => 25];
    /** Where a page says it, it says it among its first sentences. */
    private const BEGINNING = 3;
    private const HEADINGS = 3;
    /** Words above stories that are offered instead. */
    private const ABOVE = 15;
    /** A story told in so few words is one of many that are offered. */
    private const TEASER = 60;
    /** From so many words on it matters no more which of them are help. */
    private const ENOUGH = 600;
    private const MOST = 1_000;
    /** Words of a whole sentence, and so many of them that a page is a text, whatever it is about. */
    private const SENTENCE = 8;
    private const TEXT = 3;
    /** A passage of which so much is links is one. */
    private const LINK = 0.6;
    private const AROUND = '~(?:^| )(?:nav|footer|header|aside|form|button|select|dialog)\b~';

    public function __construct(private Document $document)
    {
    }

    /**
     * @param bool $isLost whether the text that is held does not stand in it
     * @param bool $isArticle whether there is an article, which may be about anything
     */
    public function isOne(bool $isLost, bool $isArticle): bool
    {
        $place = $this->place($isLost);
        if (null === $place) {
            return false;
        }
        [$own, $offered, $all] = $this->own();
        // Only below a heading that says so do stories count as others that are offered.
        $isOffering = 'heading' === $place && $offered;
        $own = $isOffering ? $own : $all;

        return (!$isArticle || $isLost || $isOffering) && $own < ($isLost ? self::OWN_OF_LOST : self::OWN)[$place]
            && ($isLost || $isOffering || $this->prose() < self::TEXT);
    }

    /** How many sentences there are that a message would not have: whole ones, which neither say that nothing is there nor help on. */
    public function prose(): int
    {
        $linked = $this->linked();
        $sentences = [];
        foreach (\array_slice($this->document->passages, 0, self::MOST, true) as $n => $passage) {
            $isOwn = PassageKind::Sentence === $passage->kind && !self::isAround($passage) && ($linked[$n] ?? 0.0) < self::LINK
                && NothingThere::words($passage->text) >= self::SENTENCE && Saying::No === TroubleWords::gone($passage->text)
                && !TroubleWords::helps($passage->text) && !TroubleWords::offersName($passage->text);
            $sentences += $isOwn ? [$passage->key => true] : [];
        }

        return \count($sentences);
    }

    /** Whether it is said plainly at all, whatever else the page has to say. */
    public function isSaid(): bool
    {
        return \in_array($this->place(false), ['heading', 'text'], true);
    }

    /** Whether a passage stands in a menu, a form or the like. */
    public static function isAround(Passage $passage): bool
    {
        return 1 === preg_match(self::AROUND, $passage->path);
    }

    /** @return 'heading'|'text'|'perhaps'|null where it is said most plainly */
    private function place(bool $isLost): ?string
    {
        $say = static fn (string $text): Saying => TroubleWords::gone($text, $isLost);
        $heads = array_map($say, $this->heads());
        if (\in_array(Saying::Wholly, $heads, true)) {
            return 'heading';
        }
        $said = [...$heads, ...array_map($say, $this->first())];

        return match (true) {
            \in_array(Saying::Wholly, $said, true), \in_array(Saying::Plainly, $said, true) => 'text',
            \in_array(Saying::Perhaps, $said, true) => 'perhaps',
            default => null,
        };
    }

    /**
     * Parts of the title, and the first headings. On a page with many, later ones may be those of stories about anything.
     *
     * @return list<string>
     */
    private function heads(): array
    {
        $heads = array_values(array_filter(
            array_map(trim(...), Split::by('/\s+[|–—·:»-]\s+|\s[|]\s?/u', $this->document->title)),
            static fn (string $head): bool => '' !== $head,
        ));
        $headings = array_map(
            static fn (Passage $passage): string => $passage->text,
            array_values(array_filter(
                $this->document->passages, static fn (Passage $passage): bool => PassageKind::Heading === $passage->kind,
            )),
        );

        return [...$heads, ...\array_slice($headings, 0, \count($headings) <= self::HEADINGS ? self::HEADINGS : 1)];
    }

    /** @return list<string> the first sentences that are no links */
    private function first(): array
    {
        $linked = $this->linked();
        $first = [];
        foreach ($this->document->passages as $n => $passage) {
            if (PassageKind::Heading !== $passage->kind && !self::isAround($passage) && ($linked[$n] ?? 0.0) < self::LINK) {
                $first[] = $passage->text;
                if (\count($first) >= self::BEGINNING) {
                    break;
                }
            }
        }

        return $first;
    }

    /**
     * @return array<int, float> what share of a passage is links, by its number, where any is
     */
    private function linked(): array
    {
        $linked = [];
        foreach ($this->document->links as $link) {
            $linked[$link->passage] = ($linked[$link->passage] ?? 0) + mb_strlen($link->text);
        }

        return array_map(
            fn (int $n): float => $linked[$n] / max(1, mb_strlen($this->document->passages[$n]->text ?? '')),
            array_combine(array_keys($linked), array_keys($linked)),
        );
    }

    /**
     * What the page has to say beside menus, links, messages and the help that comes with them.
     *
     * @return array{int, bool, int} words without stories that are offered; whether such are; all words
     */
    private function own(): array
    {
        $linked = $this->linked();
        $under = [0];
        $all = $offered = $offers = 0;
        foreach ($this->document->passages as $n => $passage) {
            if (PassageKind::Heading === $passage->kind) {
                $under[] = 0;
                $all += ($linked[$n] ?? 0.0) < self::LINK && $n <= self::MOST && !self::isAround($passage)
                    && \in_array(TroubleWords::gone($passage->text), [Saying::No, Saying::Perhaps], true)
                    ? NothingThere::words($passage->text)
                    : 0;
            } elseif (!self::isAround($passage) && ($linked[$n] ?? 0.0) < self::LINK
                && ($all > self::ENOUGH || $n > self::MOST
                    || (Saying::No === TroubleWords::gone($passage->text) && !TroubleWords::helps($passage->text)))) {
                $words = NothingThere::words($passage->text);
                $under[array_key_last($under)] += $words;
                $all += $words;
                // A line that is a link, and what it leads to in a sentence.
                if (($linked[$n - 1] ?? 0.0) > self::LINK && str_contains($this->document->passages[$n - 1]->text ?? '', ' ')) {
                    $offered += $words;
                    ++$offers;
                }
            }
        }
        $before = $under[0] + ($under[1] ?? 0);
        $stories = \array_slice($under, 2);

        return match (true) {
            \count($stories) >= self::HEADINGS && $before < self::ABOVE && max($stories) < self::TEASER => [$before, true, $all],
            $offers >= self::HEADINGS && $all - $offered < self::ABOVE => [$all - $offered, true, $all],
            default => [$all, false, $all],
        };
    }
}
