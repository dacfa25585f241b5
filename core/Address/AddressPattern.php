<?php

declare(strict_types=1);

namespace Ypomna\Core\Address;

/**
 * A pattern of addresses: `*` stands for anything, `$` at its end for the end (RFC 9309, section 2.2.3). One that begins with
 * `/` is held against path and query from their beginning; any other may stand anywhere in the address.
 */
final readonly class AddressPattern implements \Stringable
{
    /** What is longer is no pattern that somebody wrote, in bytes. */
    public const LONGEST = 1_000;

    public function __construct(private string $pattern)
    {
    }

    /**
     * Patterns from lines of text; empty lines, and what is behind a `#` at their beginning, are none.
     *
     * @return list<self>
     *
     * @throws InvalidRules if a line is too long, or there are too many
     */
    public static function lines(string $text, int $most = 200): array
    {
        $patterns = [];
        foreach (explode("\n", str_replace("\r", "\n", mb_scrub($text))) as $n => $line) {
            $line = trim($line);
            if ('' === $line || str_starts_with($line, '#')) {
                continue;
            }
            if (\strlen($line) > self::LONGEST) {
                throw new InvalidRules(\sprintf('The pattern in line %d has more than %d bytes.', $n + 1, self::LONGEST));
            }
            $patterns[] = new self($line);
        }
        if (\count($patterns) > $most) {
            throw new InvalidRules(\sprintf('There are %d patterns; %d are taken at most.', \count($patterns), $most));
        }

        return $patterns;
    }

    public function matches(Url $url): bool
    {
        return str_starts_with($this->pattern, '/')
            ? self::fits($this->pattern, $url->target())
            : self::fits('*'.$this->pattern, (string) $url->withoutFragment());
    }

    /** Held against a text from its beginning; without backtracking, however many stars there are. */
    public static function fits(string $pattern, string $text): bool
    {
        $toEnd = str_ends_with($pattern, '$');
        $pieces = explode('*', $toEnd ? substr($pattern, 0, -1) : $pattern);
        $last = \count($pieces) - 1;
        $at = 0;
        foreach ($pieces as $n => $piece) {
            if (0 === $n) {
                if (!str_starts_with($text, $piece)) {
                    return false;
                }
                $at = \strlen($piece);
                if (0 === $last) {
                    return !$toEnd || $at === \strlen($text);
                }
                continue;
            }
            if ($n === $last && $toEnd) {
                return \strlen($text) - $at >= \strlen($piece) && str_ends_with($text, $piece);
            }
            $found = '' === $piece ? $at : strpos($text, $piece, $at);
            if (false === $found) {
                return false;
            }
            $at = $found + \strlen($piece);
        }

        return true;
    }

    public function __toString(): string
    {
        return $this->pattern;
    }
}
