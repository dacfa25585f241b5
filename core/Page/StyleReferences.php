<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/**
 * What a style sheet names, token by token: `url()`, `@import`, `image-set()` (CSS Syntax Level 3, section 4; CSS Images Level 4,
 * section 2.4; CSS Cascade, section 2). Names may be written with escapes; what is cut off by the end counts, as it does in a browser;
 * the names of `@namespace` are no files.
 */
final class StyleReferences
{
    private const ESCAPE = '\\\\(?:[0-9a-fA-F]{1,6}(?:\r\n|[ \t\r\n\f])?+|[^\r\n\f0-9a-fA-F])';
    private const COMMENT = '/\*(?:[^*]++|\*(?!/))*+(?:\*/)?+';
    private const STRING = '(?:"(?:[^"\\\\\r\n\f]++|\\\\(?:\r\n|[\s\S]|\z))*+"?+|\'(?:[^\'\\\\\r\n\f]++|\\\\(?:\r\n|[\s\S]|\z))*+\'?+)';
    private const NAME = '(?:[\w\-\x80-\xFF]++|'.self::ESCAPE.')++';
    /** Passed over: comments, strings, names that lead nowhere. Found: rules that may, and functions that may. */
    private const NEXT = '~(?:'.self::COMMENT.'|'.self::STRING.'|(?!(?:url|(?:-webkit-)?image-set)\()[\w\-\x80-\xFF]++(?!\\\\))(*SKIP)(*F)'
        .'|@(?<rule>'.self::NAME.')|(?<function>'.self::NAME.')\(|'.self::NAME.'(*SKIP)(*F)~i';
    private const BARE = '~\G(?<bare>(?:[^"\'()\\\\ \t\r\n\f\x00-\x08\x0B\x0E-\x1F\x7F]++|'.self::ESCAPE.')*+)[ \t\r\n\f]*+(?:\)|\z)~';
    private const SPOILED = '~\G(?:[^\\\\)]++|\\\\[\s\S]?)*+\)?~';
    private const BLANK = '~\G(?:[ \t\r\n\f]++|'.self::COMMENT.')*+~';
    private const BLOCK = '~\G(?:[ \t\r\n\f]++|'.self::COMMENT.')*+\{(?:'.self::COMMENT.'|'.self::STRING
        .'|[^{}"\'/\\\\]++|\\\\[\s\S]?|/)*+~';
    private const IN_SET = '~'.self::COMMENT.'(*SKIP)(*F)|(?<string>'.self::STRING.')|(?<function>'.self::NAME
        .')\(|(?<open>\()|(?<close>\))~';
    private const URL = 'url';

    private int $groups = 0;

    private function __construct(private readonly string $css)
    {
    }

    /** @return \Generator<int, StyleReference> in the order in which they stand */
    public static function of(string $css): \Generator
    {
        // Most styles of elements name nothing.
        if (1 === preg_match('~url\(|image-set\(|@import|\\\\~i', $css)) {
            yield from (new self($css))->between(0, \strlen($css), null);
        }
    }

    /** A name or the inside of a string, its escapes undone (section 4.3.7). */
    public static function unescape(string $text): string
    {
        if (!str_contains($text, '\\')) {
            return $text;
        }

        return (string) preg_replace_callback(
            '~\\\\(?:([0-9a-f]{1,6})(?:\r\n|[ \t\r\n\f])?|(\r\n|[\s\S]|\z))~i',
            static function (array $m): string {
                if ('' !== $m[1]) {
                    $character = '0' === trim($m[1], '0').'0' ? false : mb_chr((int) hexdec($m[1]), 'UTF-8');

                    return false === $character ? "\u{FFFD}" : $character;
                }

                return \in_array($m[2], ["\n", "\r", "\f", "\r\n"], true) ? '' : $m[2];
            }, $text);
    }

    /**
     * @param int|null $font the group of a font’s sources
     *
     * @return \Generator<int, StyleReference>
     */
    private function between(int $at, int $end, ?int $font): \Generator
    {
        while ($at < $end && 1 === preg_match(self::NEXT, $this->css, $m, \PREG_OFFSET_CAPTURE | \PREG_UNMATCHED_AS_NULL, $at)
            && $m[0][1] < $end) {
            $from = $m[0][1];
            $at = $from + \strlen((string) $m[0][0]);
            $rule = isset($m['rule'][0]) ? strtolower(self::unescape($m['rule'][0])) : '';
            $function = isset($m['function'][0]) ? strtolower(self::unescape($m['function'][0])) : '';
            if ('import' === $rule || 'namespace' === $rule) {
                yield from $this->imported($at, 'import' === $rule);
            } elseif ('font-face' === $rule && null === $font && 1 === preg_match(self::BLOCK, $this->css, $block, 0, $at)) {
                $to = $at + \strlen($block[0]);
                yield from $this->between($at, $to, ++$this->groups);
                $at = $to;
            } elseif (self::URL === $function) {
                yield from $this->url($from, $at, $font, null !== $font);
            } elseif (str_ends_with($function, 'image-set')) {
                yield from $this->set($at, ++$this->groups);
            }
        }
    }

    /**
     * What stands behind `@import`: a string or a `url()`.
     *
     * @return \Generator<int, StyleReference>
     */
    private function imported(int &$at, bool $isImport): \Generator
    {
        $at += $this->blank($at);
        if (!$isImport && 1 === preg_match('~\G'.self::NAME.'(?!\()~', $this->css, $m, 0, $at)) {
            $at += \strlen($m[0]);
            $at += $this->blank($at);
        }
        if (1 === preg_match('~\G'.self::STRING.'~', $this->css, $m, 0, $at)) {
            $reference = $this->string($at, $m[0], isImported: true);
            $at += \strlen($m[0]);
        } elseif (1 === preg_match('~\G(?:'.self::NAME.')\(~', $this->css, $m, 0, $at)
            && self::URL === strtolower(self::unescape(substr($m[0], 0, -1)))) {
            $from = $at;
            $at += \strlen($m[0]);
            foreach ($this->url($from, $at, null, false, true) as $found) {
                $reference = $found;
            }
        }
        if ($isImport && isset($reference)) {
            yield $reference;
        }
    }

    /**
     * @param int $from where `url(` begins
     * @param int $at behind its parenthesis; afterwards behind it all, or behind its string
     *
     * @return \Generator<int, StyleReference>
     */
    private function url(int $from, int &$at, ?int $group, bool $isFont, bool $isImported = false): \Generator
    {
        $at += strspn($this->css, " \t\r\n\f", $at);
        if (1 === preg_match('~\G'.self::STRING.'~', $this->css, $m, 0, $at)) {
            $reference = $this->string($at, $m[0], $group, $isImported, $isFont);
            $at += \strlen($m[0]);
            if (null !== $reference) {
                yield $reference;
            }

            return;
        }
        if (1 !== preg_match(self::BARE, $this->css, $m, 0, $at)) {
            // What is no address spoils it all up to the parenthesis (section 4.3.14).
            $at += 1 === preg_match(self::SPOILED, $this->css, $m, 0, $at) ? \strlen($m[0]) : 1;

            return;
        }
        $at += \strlen($m[0]);
        if ('' !== $m['bare']) {
            yield new StyleReference($from, $at - $from, self::unescape($m['bare']), false, $group, $isImported, $isFont);
        }
    }

    /** @return StyleReference|null if it does not end on its line: such a string is none (section 4.3.5) */
    private function string(int $at, string $written, ?int $group = null, bool $isImported = false, bool $isFont = false): ?StyleReference
    {
        $isClosed = \strlen($written) > 1 && $written[0] === $written[-1]
            && 1 !== preg_match('~(?<!\\\\)(?:\\\\\\\\)*+\\\\.$~Ds', $written);
        if (!$isClosed && $at + \strlen($written) < \strlen($this->css)) {
            return null;
        }

        return new StyleReference(
            $at,
            \strlen($written),
            self::unescape($isClosed ? substr($written, 1, -1) : substr($written, 1)),
            true,
            $group,
            $isImported,
            $isFont,
        );
    }

    /**
     * What stands in `image-set(`: strings and addresses, but not the strings of other functions in it.
     *
     * @return \Generator<int, StyleReference>
     */
    private function set(int &$at, int $group): \Generator
    {
        for ($depth = 1; $depth > 0
            && 1 === preg_match(self::IN_SET, $this->css, $m, \PREG_OFFSET_CAPTURE | \PREG_UNMATCHED_AS_NULL, $at);) {
            $from = $m[0][1];
            $at = $from + \strlen((string) $m[0][0]);
            if (isset($m['string'][0])) {
                $reference = 1 === $depth ? $this->string($from, $m['string'][0], $group) : null;
                if (null !== $reference) {
                    yield $reference;
                }
            } elseif (isset($m['function'][0]) && self::URL === strtolower(self::unescape($m['function'][0]))) {
                yield from $this->url($from, $at, $group, false);
                // Of one with a string the parenthesis is still to come.
                $depth += ')' === $this->css[$at - 1] ? 0 : 1;
            } else {
                $depth += isset($m['close'][0]) ? -1 : 1;
            }
        }
    }

    private function blank(int $at): int
    {
        return 1 === preg_match(self::BLANK, $this->css, $m, 0, $at) ? \strlen($m[0]) : 0;
    }
}
