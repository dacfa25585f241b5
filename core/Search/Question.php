<?php

declare(strict_types=1);

namespace Ypomna\Core\Search;

use Ypomna\Core\Matches;

/**
 * What somebody asks for: all words must be there; `"…"` is a phrase, `-word` must not be there, `word*` is a beginning. Any text is a
 * question.
 */
final readonly class Question
{
    /** In bytes. */
    public const LONGEST = 10_000;
    private const MOST_CLAUSES = 32;
    private const MOST_WORDS = 64;
    private const CLAUSE = '/(?<not>(?<![^\s])-)?(?:"(?<phrase>[^"]*)"?|“(?<curled>[^”]*)”?|„(?<low>[^“”]*)[“”]?|«(?<angled>[^»]*)»?'
        .'|(?<word>[^\s"“„«]+))/u';

    /**
     * @param list<Clause> $clauses
     * @param bool $isCut whether more was asked for than is looked for
     */
    private function __construct(public array $clauses, public bool $isCut)
    {
    }

    /** @param string $text UTF-8 */
    public static function of(string $text): self
    {
        $clauses = [];
        $words = 0;
        $isCut = false;
        foreach (Matches::of(self::CLAUSE, mb_scrub($text)) as $m) {
            $word = $m['word'] ?? '';
            $written = '' !== $word ? $word : ($m['phrase'] ?? '').($m['curled'] ?? '').($m['low'] ?? '').($m['angled'] ?? '');
            $found = self::words($written);
            if ([] === $found) {
                continue;
            }
            $words += \count($found);
            if (\count($clauses) >= self::MOST_CLAUSES || $words > self::MOST_WORDS) {
                $isCut = true;
                break;
            }
            $clauses[] = new Clause(
                $found, '' !== ($m['not'] ?? ''), self::isBeginning($word, $found), '' === $word || \count($found) > 1,
                trim($m[0] ?? '', ' '),
            );
        }

        return new self($clauses, $isCut);
    }

    /** @return list<Clause> what must be there */
    public function wanted(): array
    {
        return array_values(array_filter($this->clauses, static fn (Clause $one): bool => !$one->isExcluded));
    }

    /** @return list<Clause> */
    public function excluded(): array
    {
        return array_values(array_filter($this->clauses, static fn (Clause $one): bool => $one->isExcluded));
    }

    /**
     * The words of a phrase: the last letter of a run of pairs stands alone in texts, and is none of its own here.
     *
     * @return list<string>
     */
    private static function words(string $text): array
    {
        $words = [];
        $before = null;
        foreach (Folding::tokens($text) as $token) {
            $goesOn = null !== $before && $before->to > $token->from;
            if (!$goesOn || !Folding::isPaired($token->word) || $token->to > $before->to) {
                $words[] = $token->word;
                $before = $token;
            }
        }

        return $words;
    }

    /** @param list<string> $words */
    private static function isBeginning(string $written, array $words): bool
    {
        $last = $words[\count($words) - 1] ?? '';
        // One letter of a script of pairs: what stands behind it in a text is not known.
        $isLone = Folding::isPaired($last) && 1 === preg_match('/^\X$/u', $last);

        return $isLone || 1 === preg_match('/[\p{L}\p{M}\p{N}]\*+$/u', $written);
    }
}
