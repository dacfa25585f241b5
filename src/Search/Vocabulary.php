<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\TransactionRetry;
use Ypomna\Core\Search\Folding;
use Ypomna\Core\Search\Spelling;
use Ypomna\Core\Search\Stemmer;

/** The words that stand anywhere, by language, with their stems: for other forms of a word, and for what may have been meant. */
final class Vocabulary
{
    private const AT_ONCE = 400;
    /** Of a word's forms that are looked for. */
    private const MOST_FORMS = 40;
    private const MOST_CANDIDATES = 3_000;
    private const MOST_MEANT = 8;
    /** Numbers and rubbish are no words: letters, and not too many of them. */
    private const WORD = '/^[\p{L}\p{M}]{2,30}$/Du';
    /** Of one text; a text of a million different words teaches no language. */
    private const MOST_OF_ONE = 5_000;

    private const REMEMBERED = 300_000;

    /** @var array<string, int> how often this process met a word, by language and word */
    private array $met = [];

    public function __construct(private readonly Connection $database)
    {
    }

    /** @param list<array<string, string>> $texts words of each, by column */
    public function learn(string $language, array $texts): void
    {
        if ('' === $language) {
            $this->learnUnknown($texts);

            return;
        }
        $counts = [];
        foreach ($texts as $columns) {
            $once = \array_slice(array_count_values(explode(' ', implode(' ', $columns))), 0, self::MOST_OF_ONE, true);
            foreach (array_keys($once) as $word) {
                $word = (string) $word;
                if (!Folding::isPaired($word) && 1 === preg_match(self::WORD, $word)) {
                    $this->count($language, $word, $counts);
                }
            }
        }
        if (\count($this->met) > self::REMEMBERED) {
            $this->met = [];
        }
        // In one order, so that two workers do not wait for each other.
        ksort($counts, \SORT_STRING);
        TransactionRetry::transaction($this->database, function () use ($language, $counts): void {
            foreach (array_chunk($counts, self::AT_ONCE, true) as $some) {
                $values = [];
                foreach ($some as $word => $count) {
                    $word = (string) $word;
                    array_push($values, $word, $language, Stemmer::stem($language, $word), self::backward($word), $count);
                }
                $this->database->executeStatement(
                    'INSERT INTO search_word (word, language, stem, backward, texts) VALUES '
                        .implode(', ', array_fill(0, \count($some), '(?, ?, ?, ?, ?)'))
                        .' ON DUPLICATE KEY UPDATE texts = texts + VALUES(texts)',
                    $values,
                );
            }
        });
    }

    /**
     * Of texts that are too short to tell their language, words count as ones of the language that is commonest in their script: else
     * their forms would find nothing.
     *
     * @param list<array<string, string>> $texts
     */
    private function learnUnknown(array $texts): void
    {
        $of = [];
        foreach ($texts as $columns) {
            $words = [];
            foreach (array_keys(array_count_values(explode(' ', implode(' ', $columns)))) as $word) {
                $word = (string) $word;
                $words[match (true) {
                    1 === preg_match('/\p{Greek}/u', $word) => 'el',
                    1 === preg_match('/\p{Cyrillic}/u', $word) => 'ru',
                    1 === preg_match('/\p{Latin}/u', $word) => 'en',
                    default => 'und',
                }][] = $word;
            }
            foreach ($words as $language => $some) {
                $of[$language][] = ['' => implode(' ', $some)];
            }
        }
        foreach ($of as $language => $some) {
            $this->learn($language, $some);
        }
    }

    /** @param array<array-key, int> $counts what is written down of each */
    private function count(string $language, string $word, array &$counts): void
    {
        $met = $this->met[$language.' '.$word] = ($this->met[$language.' '.$word] ?? 0) + 1;
        // At the first, the second, the fourth, and so on: how often a common word stands need not be known exactly.
        $more = 0 === ($met & ($met - 1)) ? max(1, $met >> 1) : 0;
        if ($more > 0) {
            $counts[$word] = ($counts[$word] ?? 0) + $more;
        }
    }

    /**
     * Forms of words, in all languages in which they have some.
     *
     * @param list<string> $words folded
     *
     * @return array<string, list<string>> by word: itself first, then the commonest
     */
    public function forms(array $words): array
    {
        $stems = $forms = [];
        foreach ($words as $word) {
            $forms[$word] = [$word];
            foreach (array_keys(Stemmer::LANGUAGES) as $language) {
                $stems[$language.' '.Stemmer::stem($language, $word)][] = $word;
            }
        }
        $asked = array_values(array_unique(array_map(
            static fn (string $key): string => substr($key, 3), array_map(strval(...), array_keys($stems)),
        )));
        $found = [] === $asked ? [] : $this->database->fetchAllAssociative(
            'SELECT word, language, stem FROM search_word WHERE stem IN (?) ORDER BY texts DESC LIMIT 2000', [$asked],
            [ArrayParameterType::STRING],
        );
        foreach ($found as $values) {
            $row = new Row($values);
            foreach ($stems[$row->text('language').' '.$row->text('stem')] ?? [] as $word) {
                if (\count($forms[$word]) < self::MOST_FORMS && !\in_array($row->text('word'), $forms[$word], true)) {
                    $forms[$word][] = $row->text('word');
                }
            }
        }

        return $forms;
    }

    /**
     * Words that somebody may have meant, the likeliest first.
     *
     * @param string $word folded, that stands nowhere
     *
     * @return list<string>
     */
    public function meant(string $word): array
    {
        $most = Spelling::allowed($word);
        $length = mb_strlen($word);
        if (0 === $most || 1 !== preg_match(self::WORD, $word)) {
            return [];
        }
        // Of a word with few mistakes its beginning or its end is as it was meant.
        $half = max(1, intdiv($length, 2) - ($most > 1 ? 1 : 0));
        $beginning = mb_substr($word, 0, $half);
        $end = mb_substr(self::backward($word), 0, $half);
        $select = 'SELECT word, SUM(texts) AS texts FROM search_word WHERE %s LIKE ? AND CHAR_LENGTH(word) BETWEEN '.($length - $most)
            .' AND '.($length + $most).' GROUP BY word ORDER BY texts DESC LIMIT '.self::MOST_CANDIDATES;
        $rated = [];
        foreach ([['word', $beginning], ['backward', $end]] as [$column, $piece]) {
            foreach ($this->database->fetchAllAssociative(\sprintf($select, $column), [$piece.'%']) as $values) {
                $row = new Row($values);
                $other = $row->text('word');
                $distance = $other === $word ? null : Spelling::distance($word, $other, $most);
                if (null !== $distance) {
                    $rated[$other] = [$distance, -$row->int('texts'), $other];
                }
            }
        }
        usort($rated, static fn (array $a, array $b): int => $a <=> $b);

        return array_column(\array_slice($rated, 0, self::MOST_MEANT), 2);
    }

    public function clear(): void
    {
        $this->database->executeStatement('DELETE FROM search_word');
    }

    private static function backward(string $word): string
    {
        return implode('', array_reverse(mb_str_split($word)));
    }
}
