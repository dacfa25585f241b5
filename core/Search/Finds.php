<?php

declare(strict_types=1);

namespace Ypomna\Core\Search;

/** Finds in a text what is asked for, and cuts out where it stands. */
final readonly class Finds
{
    /** Of what is cut out, in code points on either side of the first find. */
    private const BEFORE = 60;
    private const LENGTH = 240;

    /** @var array<string, list<array{int, bool}>> numbers of clauses by word, and whether it is the word itself */
    private array $words;
    /** @var list<array{int, string}> numbers of clauses, and how their words begin */
    private array $beginnings;
    /** @var array<string, list<array{int, Clause}>> phrases by their first word */
    private array $phrases;

    /** @var list<string> how all that is wanted begins */
    private array $beginners;

    /** @param list<Wanted> $wanted what must be there */
    public function __construct(array $wanted)
    {
        $words = $beginnings = $phrases = [];
        foreach ($wanted as $n => $one) {
            if (\count($one->clause->words) > 1) {
                $phrases[$one->clause->words[0]][] = [$n, $one->clause];
            } elseif ($one->clause->isBeginning) {
                $beginnings[] = [$n, $one->clause->words[0]];
            } else {
                foreach ([] === $one->forms ? [$one->clause->words[0]] : $one->forms as $form) {
                    $words[$form][] = [$n, $form === $one->clause->words[0]];
                }
            }
        }
        [$this->words, $this->beginnings, $this->phrases] = [$words, $beginnings, $phrases];
        $this->beginners = [
            ...array_map(strval(...), array_keys($words)), ...array_column($beginnings, 1), ...array_map(strval(...), array_keys($phrases)),
        ];
    }

    /** @return list<Find> in their order */
    public function in(string $text): array
    {
        return $this->among(iterator_to_array(Folding::tokens($text), false));
    }

    /**
     * The same, where it is known which of the words they are: of the others none is folded.
     *
     * @param list<Find> $known of the folded words of the text
     *
     * @return list<Find>
     */
    public function where(string $text, array $known): array
    {
        $runs = [] === $this->phrases ? Folding::runs($text) : null;
        $finds = [];
        foreach ($known as $find) {
            [$run, $at] = $runs[$find->word] ?? ['', 0];
            if ('' === $run || Folding::word($run) !== $find->form) {
                return $this->in($text);
            }
            $finds[] = new Find($find->clause, $at, $at + \strlen($run), $find->word, $find->form, $find->isExact);
        }

        return $finds;
    }

    /**
     * The same among words that are folded: where they stand in bytes is not known of these.
     *
     * @param string $words parted by blanks
     *
     * @return list<Find>
     */
    public function inWords(string $words): array
    {
        $all = ' '.$words;
        foreach ($this->beginners as $beginning) {
            if (str_contains($all, ' '.$beginning)) {
                return $this->amongWords(explode(' ', $words));
            }
        }

        return [];
    }

    /**
     * @param list<string> $words
     *
     * @return list<Find>
     */
    private function amongWords(array $words): array
    {
        if ([] !== $this->beginnings || [] !== $this->phrases) {
            return $this->among(array_map(static fn (string $word): Token => new Token($word, 0, 0), $words));
        }
        // Hundreds of words a text, and dozens of texts an answer: most are none of these.
        $finds = [];
        foreach ($words as $n => $word) {
            foreach ($this->words[$word] ?? [] as [$clause, $isExact]) {
                $finds[] = new Find($clause, 0, 0, $n, $word, $isExact);
            }
        }

        return $finds;
    }

    /**
     * @param list<Token> $tokens
     *
     * @return list<Find>
     */
    private function among(array $tokens): array
    {
        $finds = [];
        foreach ($tokens as $n => $token) {
            foreach ($this->words[$token->word] ?? [] as [$clause, $isExact]) {
                $finds[] = new Find($clause, $token->from, $token->to, $n, $token->word, $isExact);
            }
            foreach ($this->beginnings as [$clause, $beginning]) {
                if (str_starts_with($token->word, $beginning)) {
                    $finds[] = new Find($clause, $token->from, $token->to, $n, $token->word, true);
                }
            }
            foreach ($this->phrases[$token->word] ?? [] as [$clause, $phrase]) {
                $last = $n + \count($phrase->words) - 1;
                if (isset($tokens[$last]) && self::stands($phrase, $tokens, $n)) {
                    $finds[] = new Find($clause, $token->from, $tokens[$last]->to, $n, $token->word, true);
                }
            }
        }

        return $finds;
    }

    /**
     * What stands around the finds of a text.
     *
     * @param list<Find> $finds
     *
     * @return array{string, list<array{int, int}>} the text, and where the finds are in it: code points, from and behind
     */
    public static function cut(string $text, array $finds): array
    {
        $first = $finds[0]->from ?? 0;
        $start = self::back($text, $first, self::BEFORE);
        $end = self::forth($text, $start, self::LENGTH);
        $cut = substr($text, $start, $end - $start);
        $lead = $start > 0 ? '… ' : '';
        $marks = [];
        $behind = 0;
        foreach ($finds as $find) {
            if ($find->from >= $behind && $find->to <= $end) {
                $from = mb_strlen($lead) + mb_strlen(substr($text, $start, $find->from - $start));
                $marks[] = [$from, $from + mb_strlen(substr($text, $find->from, $find->to - $find->from))];
                $behind = $find->to;
            }
        }

        return [$lead.$cut.($end < \strlen($text) ? ' …' : ''), $marks];
    }

    /** @param list<Token> $tokens */
    private static function stands(Clause $phrase, array $tokens, int $at): bool
    {
        $last = \count($phrase->words) - 1;
        foreach ($phrase->words as $n => $word) {
            $there = $tokens[$at + $n]->word;
            if ($there !== $word && !($n === $last && $phrase->isBeginning && str_starts_with($there, $word))) {
                return false;
            }
        }

        return true;
    }

    /** Byte of a word's beginning, so many code points before a byte. */
    private static function back(string $text, int $at, int $points): int
    {
        $before = substr($text, 0, $at);
        if (mb_strlen($before) <= $points) {
            return 0;
        }
        $tail = mb_substr($before, -$points);
        $blank = strpos($tail, ' ');

        return $at - \strlen($tail) + (false === $blank ? 0 : $blank + 1);
    }

    private static function forth(string $text, int $from, int $points): int
    {
        $rest = substr($text, $from);
        if (mb_strlen($rest) <= $points) {
            return \strlen($text);
        }
        $head = mb_substr($rest, 0, $points);
        $blank = strrpos($head, ' ');

        return $from + (false === $blank || $blank < \strlen($head) / 2 ? \strlen($head) : $blank);
    }
}
