<?php

declare(strict_types=1);

namespace Ypomna\Core\Annotation;

use Ypomna\Core\Page\Text;

/** Marked words with what stands around them (Web Annotation Data Model, section 4.2.4), as a reader sees them. */
final readonly class Quote
{
    /** Of what stands around, no more than this is looked at, in characters on each side. */
    public const MOST_AROUND = 400;
    /** Of marked words, in bytes. */
    public const MOST_BYTES = 1_048_576;

    public string $exact;
    public string $prefix;
    public string $suffix;
    /** All three together. */
    public string $text;
    /** The same without white space, and where the marked words begin and end in it, in bytes. */
    public string $folded;
    public int $from;
    public int $to;

    /** @param string $exact '' where only the surroundings are told */
    public function __construct(string $exact, string $prefix = '', string $suffix = '')
    {
        $this->exact = Text::normalise(mb_scrub($exact));
        $this->prefix = mb_substr(Text::normalise(mb_scrub($prefix)), -self::MOST_AROUND);
        $this->suffix = mb_substr(Text::normalise(mb_scrub($suffix)), 0, self::MOST_AROUND);
        $gap = static fn (string $before, string $after): string => 1 === preg_match('/[\s\p{Z}]$/Du', mb_scrub($before))
            || 1 === preg_match('/^[\s\p{Z}]/u', mb_scrub($after)) ? ' ' : '';
        $this->text = $this->prefix.$gap($prefix, $exact).$this->exact.$gap($exact, $suffix).$this->suffix;
        $before = PageText::fold($this->prefix);
        $words = PageText::fold($this->exact);
        $this->folded = $before.$words.PageText::fold($this->suffix);
        $this->from = \strlen($before);
        $this->to = $this->from + \strlen($words);
    }

    public function isEmpty(): bool
    {
        return '' === $this->exact && ('' === $this->prefix || '' === $this->suffix);
    }

    /** The marked words without white space. */
    public function words(): string
    {
        return substr($this->folded, $this->from, $this->to - $this->from);
    }

    /** Whether so many words were marked that they do not stand elsewhere by chance. */
    public function isTelling(): bool
    {
        $tokens = Tokens::of($this->exact)->texts;

        return array_sum(array_map(Tokens::weight(...), $tokens)) >= 14 && \count($tokens) >= 3;
    }
}
