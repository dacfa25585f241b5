<?php

declare(strict_types=1);

namespace Ypomna\Core\Annotation;

/**
 * A text in words, numbers and signs, each with its place in the folded text. In scripts without spaces each character is one.
 *
 * @internal
 */
final class Tokens
{
    private const UNSPACED = '\p{Han}\p{Hiragana}\p{Katakana}\p{Thai}\p{Lao}\p{Khmer}\p{Myanmar}ー';
    /** Times of day are known where they were put together without white space. */
    private const PATTERN = '/['.self::UNSPACED.']\p{M}*|(?:(?!['.self::UNSPACED.'])[\p{L}\p{M}])+'
        .'|\p{Nd}{1,2}:\p{Nd}{2}|\p{N}+(?:[.,:\/-]\p{N}+)*|[^\s]/u';

    /** Longer words are left whole, in bytes. */
    private const LONGEST_PARTED = 80;

    /** @var list<string> */
    public array $texts = [];
    /** @var list<int> in bytes of the folded text */
    public array $starts = [];
    /** @var list<int> */
    public array $ends = [];

    /** @param string $text normalised */
    public static function of(string $text, int $from = 0): self
    {
        $tokens = new self();
        $tokens->add($text, $from);

        return $tokens;
    }

    /** The marked words are parted from what stands around them, which may have been put together without white space. */
    public static function ofQuote(Quote $quote): self
    {
        $tokens = self::of($quote->prefix);
        $tokens->add($quote->exact, $quote->from);
        $tokens->add($quote->suffix, $quote->to);

        return $tokens;
    }

    /**
     * Into which two words each could be parted.
     *
     * @return array<string, list<array{string, string}>>
     */
    public function halves(): array
    {
        $halves = [];
        foreach ($this->texts as $token) {
            $characters = \strlen($token) <= self::LONGEST_PARTED ? mb_str_split($token) : [];
            for ($n = 2, $count = \count($characters); $n <= $count - 2; ++$n) {
                $halves[$token][] = [implode('', \array_slice($characters, 0, $n)), implode('', \array_slice($characters, $n))];
            }
        }

        return $halves;
    }

    /**
     * With words parted that were put together without white space, where the parts are words of the page and the whole is none.
     *
     * @param array<string, true> $words of the page
     */
    public function parted(array $words): self
    {
        $halves = $this->halves();
        $parted = new self();
        foreach ($this->texts as $n => $token) {
            $parts = [$token];
            foreach (isset($words[$token]) ? [] : $halves[$token] ?? [] as $two) {
                if (isset($words[$two[0]], $words[$two[1]])) {
                    $parts = $two;
                    break;
                }
            }
            $at = $this->starts[$n];
            foreach ($parts as $part) {
                $parted->texts[] = $part;
                $parted->starts[] = $at;
                $parted->ends[] = $at += \strlen($part);
            }
        }

        return $parted;
    }

    public static function ofPassages(PageText $page, int $first, int $last): self
    {
        $tokens = new self();
        for ($n = $first; $n <= $last; ++$n) {
            $tokens->add($page->passages[$n]->text, $page->startOf($n));
        }

        return $tokens;
    }

    public function count(): int
    {
        return \count($this->texts);
    }

    private function add(string $text, int $at): void
    {
        preg_match_all(self::PATTERN, $text, $m);
        foreach ($m[0] as $piece) {
            $piece = PageText::fold($piece);
            if ('' !== $piece) {
                $this->texts[] = $piece;
                $this->starts[] = $at;
                $this->ends[] = $at += \strlen($piece);
            }
        }
    }

    /** What a token tells when it is found: long words more than short ones, signs hardly anything. */
    public static function weight(string $token): int
    {
        if (1 !== preg_match('/[\p{L}\p{N}]/u', $token)) {
            return 1;
        }
        if (1 === preg_match('/^\p{N}/u', $token)) {
            return min(6, 2 + \strlen($token));
        }
        if (1 === preg_match('/^['.self::UNSPACED.']/u', $token)) {
            return 2;
        }
        $length = mb_strlen($token);

        return $length <= 3 ? 2 : min(8, $length - 1);
    }

    /**
     * By what a text is found: its longer words and numbers, and all pairs of neighbours.
     *
     * @param list<string> $tokens
     *
     * @return array<string, int> and what each tells
     */
    public static function signs(array $tokens, string $before = ''): array
    {
        $signs = [];
        foreach ($tokens as $token) {
            $weight = self::weight($token);
            if ($weight >= 3) {
                $signs[$token] = $weight;
            }
            if ('' !== $before) {
                $signs[$before."\x1F".$token] = $weight + self::weight($before);
            }
            $before = $token;
        }

        return $signs;
    }

    /** Whether two neighbouring pieces of text, as they are printed, are one word or number. */
    public static function isInWord(string $before, string $after): bool
    {
        return 1 === preg_match('/(?:(?!['.self::UNSPACED.'])[\p{L}\p{M}\p{N}])$/Du', $before)
                && 1 === preg_match('/^(?:(?!['.self::UNSPACED.'])[\p{L}\p{M}\p{N}])/u', $after)
            || 1 === preg_match('/\p{N}[.,:]?$/Du', $before) && 1 === preg_match('/^[.,:]?\p{N}/u', $after);
    }
}
