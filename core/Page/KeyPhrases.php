<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/**
 * What a page is about, in its own words: runs of up to three words that stand in it often, in its title and headings, and seldom on
 * other pages. The weight of a word is how often it occurs against how many pages have it (Spärck Jones: A statistical interpretation of
 * term specificity, 1972), a run weighs more than its words, and a name more than what is no name. Words that carry no meaning of their
 * own neither begin nor end a run.
 */
final class KeyPhrases
{
    /** Words of a page that are looked at, and the longest of them in letters. */
    private const MOST_WORDS = 50_000;
    private const LONGEST_WORD = 40;
    private const LONGEST_RUN = 3;
    /** A word that so many of the held pages have, from so many pages on, is one that carries no meaning here. */
    private const COMMON = 0.3;
    private const ENOUGH_PAGES = 30;
    private const OF_TITLE = 4.0;
    private const OF_HEADING = 2.0;
    private const OF_NAME = 1.6;
    /** What stands above the text and not in it. */
    private const ONLY_ABOVE = 0.35;
    /** Of a run, for each word behind its first. */
    private const LONGER = 0.45;
    /** Scripts in which each word counts by itself from fewer letters on. */
    private const DENSE = '/[\p{Han}\p{Hiragana}\p{Katakana}\p{Hangul}\p{Thai}\p{Lao}\p{Khmer}\p{Myanmar}]/u';

    /** @var array<string, array<string, true>> by language; under '' all of them */
    private static array $empty = [];

    /**
     * @param \Closure(list<string>): array{int, array<string, int>} $held how many pages are held, and how many of them have each word
     *     ({@see words()}); one that is not named is in none
     *
     * @return list<KeyPhrase> the weightiest first
     */
    public static function of(Document $document, \Closure $held, int $most = 8): array
    {
        $empty = self::emptyWords($document);
        $runs = self::runs($document, $empty);
        $words = [];
        foreach ($runs as $run) {
            foreach ($run['words'] as $word) {
                $words[$word] = true;
            }
        }
        [$pages, $with] = $held(array_map(strval(...), array_keys($words)));
        $weighed = [];
        foreach ($runs as $key => $run) {
            $rare = 0.0;
            foreach ($run['words'] as $word) {
                $have = min($with[$word] ?? 0, $pages);
                if ($pages >= self::ENOUGH_PAGES && $have / $pages > self::COMMON && \in_array($word, [$run['words'][0],
                    $run['words'][\count($run['words']) - 1]], true)) {
                    continue 2;
                }
                $rare += isset($empty[$word]) ? 0.0 : log(($pages + 2) / ($have + 1)) + 0.3;
            }
            if ($run['times'] < 2 && $run['weight'] < self::OF_HEADING) {
                continue;
            }
            $weighed[$key] = $run['weight'] * $rare / \count($run['words']) * (1 + self::LONGER * (\count($run['words']) - 1))
                * ($run['named'] * 2 > $run['times'] ? self::OF_NAME : 1.0) * (0 === $run['body'] ? self::ONLY_ABOVE : 1.0);
        }
        arsort($weighed);
        $chosen = [];
        foreach ($weighed as $key => $weight) {
            $run = $runs[$key];
            foreach ($chosen as $other => $isChosen) {
                // Of a run and a part of it the weightier one stands for both, unless the part stands often by itself.
                $within = str_contains(' '.$other.' ', ' '.$key.' ') || str_contains(' '.$key.' ', ' '.$other.' ');
                if ($within && max($run['times'], $runs[$other]['times']) < 3 * min($run['times'], $runs[$other]['times'])) {
                    continue 2;
                }
            }
            $chosen[$key] = new KeyPhrase(self::commonest($run['forms']), $weight, $run['times']);
            if (\count($chosen) >= $most) {
                break;
            }
        }

        return array_values($chosen);
    }

    /**
     * The words of a page, each once, as they are counted over many pages.
     *
     * @return list<string> at most so many, in their order
     */
    public static function words(Document $document, int $most): array
    {
        $empty = self::emptyWords($document);
        $known = [];
        foreach (self::texts($document) as [$text]) {
            foreach (Text::words($text) as $word) {
                $key = self::key($word);
                if (null !== $key && !isset($empty[$key])) {
                    $known[$key] = true;
                    if (\count($known) >= $most) {
                        break 2;
                    }
                }
            }
        }

        return array_map(strval(...), array_keys($known));
    }

    /**
     * @param array<string, true> $empty
     *
     * @return array<array-key, array{words: list<string>, times: int, weight: float, named: int, body: int, forms: array<string, int>}>
     *     by words
     */
    private static function runs(Document $document, array $empty): array
    {
        $runs = [];
        $left = self::MOST_WORDS;
        foreach (self::texts($document) as [$text, $weight]) {
            $last = [];
            $isFirst = true;
            foreach (Text::words($text) as $piece) {
                if (' ' === $piece) {
                    continue;
                }
                $key = self::key($piece);
                if (null === $key) {
                    $last = [];
                    $isFirst = $isFirst || 1 === preg_match('/^[.!?…։。！？]$/u', $piece);
                    continue;
                }
                if (--$left < 0) {
                    break 2;
                }
                $last[] = [$key, $piece, 1 === preg_match('/^\p{Lu}/u', $piece), !$isFirst];
                $last = \array_slice($last, -self::LONGEST_RUN);
                for ($from = \count($last) - 1; $from >= 0; --$from) {
                    self::add($runs, \array_slice($last, $from), $weight, $empty);
                }
                $isFirst = false;
            }
        }

        return $runs;
    }

    /**
     * @param array<array-key,
     * array{words: list<string>, times: int, weight: float, named: int, body: int, forms: array<string, int>}> $runs
     * @param list<array{string, string, bool, bool}> $words as they are counted, as they stand, whether they begin with a capital, and
     *     stand behind the first word of a sentence
     * @param array<string, true> $empty
     */
    private static function add(array &$runs, array $words, float $weight, array $empty): void
    {
        $keys = array_column($words, 0);
        if (isset($empty[$keys[0]]) || isset($empty[$keys[\count($keys) - 1]])
            || !self::tells($keys[0]) || !self::tells($keys[\count($keys) - 1])) {
            return;
        }
        $isDense = 1 === preg_match(self::DENSE, implode('', $keys));
        $form = implode($isDense && 1 !== preg_match('/\p{Hangul}/u', $keys[0]) ? '' : ' ', array_column($words, 1));
        $key = implode(' ', $keys);
        $runs[$key] ??= ['words' => $keys, 'times' => 0, 'weight' => 0.0, 'named' => 0, 'body' => 0, 'forms' => []];
        ++$runs[$key]['times'];
        $runs[$key]['weight'] += $weight;
        $runs[$key]['body'] += $weight > 1.0 ? 0 : 1;
        // The first word of a sentence has its capital for that.
        $runs[$key]['named'] += !\in_array(false, array_column($words, 2), true) && \in_array(true, array_column($words, 3), true) ? 1 : 0;
        $runs[$key]['forms'][$form] = ($runs[$key]['forms'][$form] ?? 0) + 1;
    }

    /** Whether a word can begin or end a run: a number tells nothing by itself, nor does a letter or two. */
    private static function tells(string $word): bool
    {
        if (1 !== preg_match('/\p{L}/u', $word)) {
            return false;
        }
        if (1 === preg_match(self::DENSE, $word)) {
            // A sign of kana alone is a particle, one ideograph too little.
            return mb_strlen($word) > 1 && 1 !== preg_match('/^\p{Hiragana}+$/u', $word);
        }

        return mb_strlen($word) > 2;
    }

    /** @return iterable<array{string, float}> texts of the page and what a word in them weighs */
    private static function texts(Document $document): iterable
    {
        yield [mb_strcut($document->title, 0, 2_000), self::OF_TITLE];
        foreach ($document->passages as $passage) {
            yield [$passage->text, PassageKind::Heading === $passage->kind ? self::OF_HEADING : 1.0];
        }
    }

    /** @return string|null null if it is no word */
    private static function key(string $word): ?string
    {
        if (1 !== preg_match('/^[\p{L}\p{N}]/u', $word) || mb_strlen($word) > self::LONGEST_WORD) {
            return null;
        }

        // A genitive is the name it belongs to.
        return (string) preg_replace("/['’]s$/u", '', mb_strtolower($word));
    }

    /** @param array<string, int> $forms */
    private static function commonest(array $forms): string
    {
        arsort($forms);

        return (string) preg_replace("/['’]s$/u", '', (string) array_key_first($forms));
    }

    /** @return array<string, true> of the language of the page; of all, where that is not known */
    private static function emptyWords(Document $document): array
    {
        if ([] === self::$empty) {
            $all = ['' => []];
            foreach (explode("\n", (string) file_get_contents(__DIR__.'/function-words.txt')) as $line) {
                $words = explode(' ', $line);
                $language = array_shift($words);
                foreach ('#' === $language ? [] : $words as $word) {
                    $all[$language][$word] = $all[''][$word] = true;
                }
            }
            self::$empty = $all;
        }
        $said = strtolower(preg_split('/[-_]/', $document->language ?? '')[0] ?? '');
        $language = isset(self::$empty[$said]) && '' !== $said ? $said : Language::of($document->text()) ?? '';

        return self::$empty[$language] ?? self::$empty[''];
    }
}
