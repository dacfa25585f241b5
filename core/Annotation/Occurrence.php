<?php

declare(strict_types=1);

namespace Ypomna\Core\Annotation;

/**
 * A place of the marked words, and how much of what stands around them is as it was.
 *
 * @internal
 */
final readonly class Occurrence
{
    /** So many characters in a row are no chance. */
    private const TELLING = 12;
    private const MUCH = 20;
    private const FEWEST = 4;

    private function __construct(
        public int $at,
        /** Characters right before that are the same, and all that were told. */
        public int $left,
        public int $allLeft,
        public int $right,
        public int $allRight,
    ) {
    }

    public static function of(PageText $page, Quote $quote, int $at): self
    {
        $prefix = substr($quote->folded, 0, $quote->from);
        $suffix = substr($quote->folded, $quote->to);
        $end = $at + $quote->to - $quote->from;
        $before = substr($page->folded, max(0, $at - $quote->from), min($at, $quote->from));
        $after = substr($page->folded, $end, \strlen($suffix));
        $right = strspn($after ^ substr($suffix, 0, \strlen($after)), "\0");
        $left = strspn(strrev($before) ^ substr(strrev($prefix), 0, \strlen($before)), "\0");

        return new self(
            $at, mb_strlen(substr($prefix, \strlen($prefix) - $left)), mb_strlen($prefix),
            mb_strlen(substr($suffix, 0, $right)), mb_strlen($suffix),
        );
    }

    /** Whether all that was told of the surroundings is there. */
    public function isWhole(): bool
    {
        return $this->left >= $this->allLeft && $this->right >= $this->allRight;
    }

    /** Whether a side of which much was told is as it was. */
    public function hasWholeSide(): bool
    {
        return ($this->left === $this->allLeft && $this->left >= self::MUCH)
            || ($this->right === $this->allRight && $this->right >= self::MUCH);
    }

    /** Of the surroundings that are the same, by weight. */
    public function weight(Quote $quote): int
    {
        $prefix = mb_substr(substr($quote->folded, 0, $quote->from), $this->allLeft - $this->left);
        $suffix = mb_substr(substr($quote->folded, $quote->to), 0, $this->right);

        return array_sum(array_map(Tokens::weight(...), [...Tokens::of($prefix)->texts, ...Tokens::of($suffix)->texts]));
    }

    /** Whether one side of the surroundings is left. */
    public function isRight(): bool
    {
        foreach ([[$this->left, $this->allLeft], [$this->right, $this->allRight]] as [$same, $all]) {
            if ($same >= self::TELLING || ($same === $all && $same >= self::FEWEST)) {
                return true;
            }
        }

        return false;
    }
}
