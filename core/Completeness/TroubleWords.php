<?php

declare(strict_types=1);

namespace Ypomna\Core\Completeness;

use Ypomna\Core\Split;
use Ypomna\Core\WordFile;

/**
 * Words by which pages say what they are not, language by language. A sentence says something if a thing and what became of it
 * stand in it, in whatever order: so inflections and small words between them do not matter.
 */
final class TroubleWords
{
    /** More words than this make no message. */
    private const LONGEST = 20;
    /** Such a share of a sentence makes it nothing else. */
    private const FILLED = 0.5;

    private const FILE = __DIR__.'/trouble-words.txt';

    /** @var array<string, string> by section */
    private static array $patterns = [];
    /** @var array<string, list<array{string, string}>> patterns of two that belong together, by what they are of */
    private static array $pairs = [];

    /**
     * Whether a sentence, or a heading, says that something was not found, or is not there any more.
     *
     * @param bool $isLost whether a text that once stood there is known to be gone: then an offer that has ended is gone, too
     */
    public static function gone(string $sentence, bool $isLost = false): Saying
    {
        $sentence = mb_scrub(trim($sentence));
        $words = \count(Split::words($sentence));
        if ('' === $sentence || $words > self::LONGEST || mb_strlen($sentence) > 240) {
            return Saying::No;
        }
        if (self::says('number', $sentence)) {
            return Saying::Wholly;
        }
        foreach (self::pairs('gone', 'thing', 'said', $isLost ? 'ended' : '') as [$thing, $gone]) {
            if (1 === preg_match($gone, $sentence, $what) && 1 === preg_match($thing, $sentence, $which)) {
                if (1 === preg_match('/[?？؟]$/u', $sentence)) {
                    return Saying::Perhaps;
                }

                return mb_strlen($what[0].$which[0]) >= self::FILLED * mb_strlen($sentence) ? Saying::Wholly : Saying::Plainly;
            }
        }

        return self::says('nothing', $sentence) ? Saying::Perhaps : Saying::No;
    }

    /** Whether a sentence says that a name is for sale or has run out, that hosting was ended, or that nothing was put on a server yet. */
    public static function isVacant(string $sentence, string $host): bool
    {
        $sentence = mb_scrub(trim($sentence));
        // A question, or names in general, are what a text about them has.
        if (mb_strlen($sentence) > 240 || 1 === preg_match('/[?？؟]$/u', $sentence) || self::says('in-general', $sentence)) {
            return false;
        }
        if (self::says('suspended', $sentence) || self::says('unused', $sentence)) {
            return true;
        }
        if (!self::says('sale', $sentence)) {
            return false;
        }
        preg_match_all('/(?:[a-z0-9-]+\.)+[a-z]{2,24}/i', $sentence, $names);
        foreach ($names[0] as $name) {
            if (str_ends_with('.'.strtolower($host), '.'.strtolower($name))) {
                return true;
            }
        }

        return self::says('name', $sentence);
    }

    /** Whether names or their sale are spoken of at all. */
    public static function offersName(string $sentence): bool
    {
        $sentence = mb_scrub($sentence);

        return self::says('name', $sentence) || self::says('sale', $sentence);
    }

    /** Whether a sentence offers to read on to those who pay or sign in. */
    public static function isForSome(string $sentence): bool
    {
        $sentence = mb_scrub(trim($sentence));
        if (mb_strlen($sentence) > 220 || self::says('letters', $sentence)) {
            return false;
        }
        foreach (self::pairs('paid', 'who', 'reading') as [$who, $reading]) {
            if (1 === preg_match($who, $sentence) && 1 === preg_match($reading, $sentence)) {
                return true;
            }
        }

        return false;
    }

    /** Whether a sentence helps on somebody who has found nothing. */
    public static function helps(string $sentence): bool
    {
        return self::says('help', mb_scrub($sentence));
    }

    /** Whether words of that section of the file stand in a text, which has to be well-formed UTF-8. */
    public static function says(string $section, string $text): bool
    {
        return 1 === preg_match(self::pattern($section), $text);
    }

    /** Made once: a pattern that is the same string each time is found among the compiled ones at once. */
    private static function pattern(string $section): string
    {
        return self::$patterns[$section] ??= '/'.WordFile::read(self::FILE)[$section].'/iu';
    }

    /**
     * @param string $also a section whose words count as the others' do; none if it is empty
     *
     * @return list<array{string, string}> patterns, language by language
     */
    private static function pairs(string $of, string $one, string $other, string $also = ''): array
    {
        $key = $of.$also;
        if (!isset(self::$pairs[$key])) {
            $all = WordFile::read(self::FILE);
            self::$pairs[$key] = [];
            foreach ($all as $section => $expression) {
                if (1 === preg_match('/^'.$of.'\.([a-z]+)\.'.$one.'$/D', $section, $m)) {
                    $second = $all[$of.'.'.$m[1].'.'.$other].('' === $also ? '' : '|'.$all[$also]);
                    self::$pairs[$key][] = ['/'.$expression.'/iu', '/'.$second.'/iu'];
                }
            }
        }

        return self::$pairs[$key];
    }
}
