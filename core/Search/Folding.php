<?php

declare(strict_types=1);

namespace Ypomna\Core\Search;

use Ypomna\Core\Matches;

/**
 * Words as they are looked for: case, accents, width, points,
 * ligatures and the final sigma do not count (Unicode Standard Annex 15, through
 * ICU). Scripts that part no words, and Korean, whose words carry their particles, stand in pairs of letters, so that any piece of them is
 * found.
 */
final class Folding
{
    /** Of a word, in letters; what is longer is cut, here as in what is asked. */
    public const LONGEST = 60;
    private const PAIRED = '\p{Han}\p{Hiragana}\p{Katakana}\p{Hangul}\p{Thai}\p{Lao}\p{Khmer}\p{Myanmar}ー々〆';
    /** Signs that are written above and below letters of alphabets; in other scripts such signs are vowels. */
    private const SIGNS = '\x{0300}-\x{036F}\x{0483}-\x{0487}\x{0591}-\x{05C7}\x{0610}-\x{061A}\x{064B}-\x{065F}\x{0670}\x{06D6}-\x{06ED}'
        .'\x{1AB0}-\x{1AFF}\x{1DC0}-\x{1DFF}\x{20D0}-\x{20FF}\x{FE20}-\x{FE2F}';
    /** Stand inside words and are not read: soft hyphens, what takes up no width, the Arabic stretch. */
    private const UNREAD = '\x{00AD}\x{0640}\x{200B}-\x{200F}\x{2060}\x{FEFF}\x{FE00}-\x{FE0F}';
    private const SAME = [
        'ς' => 'σ', 'ß' => 'ss', 'œ' => 'oe', 'æ' => 'ae', 'ı' => 'i', 'ø' => 'o', 'đ' => 'd', 'ð' => 'd', 'ł' => 'l', 'þ' => 'th',
    ];
    private const REMEMBERED = 50_000;
    /** Shorter texts are taken apart in one step, in bytes. */
    private const AT_ONCE = 65_536;

    /** @var array<string, string> */
    private static array $folded = [];

    /** A word, or several, without what does not count; what parts words is left as it is. */
    public static function fold(string $text): string
    {
        if (1 !== preg_match('/[\x80-\xFF]/', $text)) {
            return strtolower($text);
        }
        if (isset(self::$folded[$text])) {
            return self::$folded[$text];
        }
        // The short i of Cyrillic is a letter of its own, whatever it is made of.
        $plain = str_replace('й', "\u{E000}", self::form(mb_strtolower($text), \Normalizer::FORM_C));
        $plain = (string) preg_replace('/['.self::SIGNS.self::UNREAD.']+/u', '', self::form($plain, \Normalizer::FORM_KD));
        $plain = strtr(mb_strtolower(self::form($plain, \Normalizer::FORM_KC)), self::SAME + ["\u{E000}" => 'й']);
        if (\strlen($text) < 100) {
            if (\count(self::$folded) >= self::REMEMBERED) {
                self::$folded = [];
            }
            self::$folded[$text] = $plain;
        }

        return $plain;
    }

    /**
     * The words of a text in their order, none left out.
     *
     * @param string $text UTF-8
     *
     * @return \Generator<int, Token>
     */
    public static function tokens(string $text): \Generator
    {
        $runs = self::runs($text);
        if (null !== $runs) {
            foreach ($runs as [$run, $at]) {
                $word = self::word($run);
                if ('' !== $word) {
                    yield new Token($word, $at, $at + \strlen($run));
                }
            }

            return;
        }
        foreach (Matches::of('/[\p{L}\p{M}\p{N}'.self::UNREAD.']+/u', $text) as $at => [$run]) {
            if (1 !== preg_match('/['.self::PAIRED.']/u', $run)) {
                $word = self::word($run);
                if ('' !== $word) {
                    yield new Token($word, $at, $at + \strlen($run));
                }
                continue;
            }
            foreach (Matches::of('/['.self::PAIRED.'\p{M}]+|[^'.self::PAIRED.']+/u', $run) as $inside => [$piece]) {
                if (1 === preg_match('/^['.self::PAIRED.']/u', $piece)) {
                    yield from self::pairs($piece, $at + $inside);
                } elseif ('' !== ($word = self::cut(self::fold($piece)))) {
                    yield new Token($word, $at + $inside, $at + $inside + \strlen($piece));
                }
            }
        }
    }

    /**
     * What may be words, as it stands there.
     *
     * @return list<array{string, int}>|null with the byte at which each begins; null of a text that is long, or has a script that parts
     *     no words
     */
    public static function runs(string $text): ?array
    {
        if (\strlen($text) > self::AT_ONCE || 1 === preg_match('/['.self::PAIRED.']/u', $text)) {
            return null;
        }
        preg_match_all('/[\p{L}\p{M}\p{N}'.self::UNREAD.']+/u', $text, $m, \PREG_OFFSET_CAPTURE);

        return $m[0];
    }

    /** One of them as it is looked for; '' if nothing of it is read. */
    public static function word(string $run): string
    {
        return self::cut(self::fold($run));
    }

    /** @return list<string> the words alone */
    public static function words(string $text): array
    {
        $words = [];
        if (1 !== preg_match('/['.self::PAIRED.']/u', $text)) {
            preg_match_all('/[\p{L}\p{M}\p{N}'.self::UNREAD.']+/u', $text, $m);
            foreach ($m[0] as $run) {
                $word = self::word($run);
                if ('' !== $word) {
                    $words[] = $word;
                }
            }

            return $words;
        }
        foreach (self::tokens($text) as $token) {
            $words[] = $token->word;
        }

        return $words;
    }

    public static function isPaired(string $word): bool
    {
        return 1 === preg_match('/^['.self::PAIRED.']/u', $word);
    }

    /** @return \Generator<int, Token> each letter with the one behind it; the last one alone, so that it begins a word, too */
    private static function pairs(string $piece, int $at): \Generator
    {
        preg_match_all('/\X/u', $piece, $m);
        $letters = $m[0];
        $here = $at;
        foreach ($letters as $n => $letter) {
            $next = $letters[$n + 1] ?? '';
            $word = self::cut(self::fold($letter.$next));
            if ('' !== $word) {
                yield new Token($word, $here, $here + \strlen($letter.$next));
            }
            $here += \strlen($letter);
        }
    }

    private static function cut(string $word): string
    {
        if (1 !== preg_match('/^[a-z0-9]*$/D', $word)) {
            $word = (string) preg_replace('/[^\p{L}\p{M}\p{N}]+/u', '', $word);
        }

        return \strlen($word) <= self::LONGEST ? $word : mb_substr($word, 0, self::LONGEST);
    }

    /** @param \Normalizer::FORM_* $form */
    private static function form(string $text, int $form): string
    {
        $plain = \Normalizer::normalize($text, $form);

        return \is_string($plain) ? $plain : $text;
    }
}
