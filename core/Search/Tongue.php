<?php

declare(strict_types=1);

namespace Ypomna\Core\Search;

use Ypomna\Core\Page\Language;

/**
 * Which language a passage is in: by its script and its commonest words, else by its runs of letters, compared with the profiles of
 * `libexttextcat-data` (Cavnar and Trenkle, N-Gram-Based Text Categorization, 1994). Where those are not installed, fewer are known.
 */
final class Tongue
{
    private const FOLDER = '/usr/share/libexttextcat/';
    /** Runs of letters of a profile that are compared. */
    private const RUNS = 300;
    private const LONGEST_RUN = 5;
    /** A shorter text tells nothing, in letters; of a longer one the beginning does. */
    private const FEWEST = 40;
    private const MOST = 3_000;
    /** The next best language is that much further away, or nobody knows. */
    private const CLEAR = 1.03;
    /** A language that is further away, of what has nothing in common, is another one that is not known here. */
    private const NEAR = 0.9;
    /** As the profiles call what is called otherwise here. */
    private const FILES = ['no' => 'nb'];

    /** @var array<string, array<string, int>>|null ranks of runs, by language */
    private static ?array $profiles = null;

    /** @return string|null ISO 639-1; null if it cannot be told */
    public static function of(string $text): ?string
    {
        return Language::of($text) ?? self::byRuns($text);
    }

    private static function byRuns(string $text): ?string
    {
        $text = mb_strtolower(mb_substr(mb_scrub($text), 0, self::MOST));
        if ((int) preg_match_all('/\p{L}/u', $text) < self::FEWEST) {
            return null;
        }
        $runs = self::runs($text);
        $distances = [];
        foreach (self::profiles() as $language => $ranks) {
            $distance = 0;
            foreach ($runs as $rank => $run) {
                $distance += isset($ranks[$run]) ? abs($ranks[$run] - $rank) : self::RUNS;
            }
            $distances[$language] = $distance;
        }
        asort($distances);
        $best = array_keys($distances);

        return [] !== $best && $distances[$best[0]] < self::NEAR * self::RUNS * \count($runs)
            && (!isset($best[1]) || $distances[$best[1]] >= self::CLEAR * $distances[$best[0]]) ? $best[0] : null;
    }

    /** @return list<string> the commonest first */
    private static function runs(string $text): array
    {
        preg_match_all('/\p{L}[\p{L}\p{M}]*/u', $text, $m);
        $counts = [];
        foreach ($m[0] as $word) {
            $letters = ['_', ...mb_str_split($word), '_'];
            $count = \count($letters);
            for ($from = 0; $from < $count; ++$from) {
                $run = '';
                for ($length = 0; $length < self::LONGEST_RUN && $from + $length < $count; ++$length) {
                    $run .= $letters[$from + $length];
                    $counts[$run] = ($counts[$run] ?? 0) + 1;
                }
            }
        }
        arsort($counts);

        return array_map(strval(...), array_keys(\array_slice($counts, 0, self::RUNS, true)));
    }

    /** @return array<string, array<string, int>> */
    private static function profiles(): array
    {
        if (null === self::$profiles) {
            self::$profiles = [];
            foreach (array_keys(Stemmer::LANGUAGES) as $language) {
                $file = self::FOLDER.(self::FILES[$language] ?? $language).'.lm';
                $lines = is_readable($file) ? file($file, \FILE_IGNORE_NEW_LINES) : false;
                foreach (false === $lines ? [] : \array_slice($lines, 0, self::RUNS) as $rank => $line) {
                    self::$profiles[$language][explode("\t", $line)[0]] = $rank;
                }
            }
        }

        return self::$profiles;
    }
}
