<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Ypomna\App\Search\Value\EngineQuestion;
use Ypomna\App\Search\Value\SearchWish;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Search\Clause;
use Ypomna\Core\Search\Folding;
use Ypomna\Core\Search\Wanted;

/** What may have been meant instead of words that stand nowhere; only what whoever asks would find. */
final readonly class Suggestions
{
    /** All that may have been meant is tried: what somebody does not see takes no place from what they see. */
    private const MOST_TRIED = 8;
    /** Texts in which it may stand: one that is seen is enough. */
    private const LOOKED_AT = 20;

    public function __construct(private SeenTexts $seen, private Vocabulary $vocabulary)
    {
    }

    /**
     * The question with words that stand somewhere in place of those that stand nowhere.
     *
     * @param list<Wanted> $wanted
     */
    public function of(Viewer $viewer, SearchWish $wish, array $wanted, ?int $subject): ?string
    {
        $text = $wish->asked;
        $isOther = false;
        $words = $pairs = [];
        foreach ($wanted as $one) {
            foreach ($one->clause->isBeginning ? [] : $one->clause->words as $word) {
                if (Folding::isPaired($word)) {
                    $pairs[$word] = $one;
                } else {
                    $words[$word] = $one;
                }
            }
        }
        foreach ($words as $word => $one) {
            $word = (string) $word;
            if (!$this->stands($viewer, $word, $one, $wish, $subject)) {
                $meant = $this->meant($viewer, $word, $wish, $subject);
                if (null === $meant) {
                    return null;
                }
                $text = self::replaced($text, $word, $meant);
                $isOther = true;
            }
        }
        // In place of pairs of letters none are offered, so it is asked for these only where something else is.
        foreach ($isOther ? $pairs : [] as $word => $one) {
            if (!$this->stands($viewer, (string) $word, $one, $wish, $subject)) {
                return null;
            }
        }

        return $isOther ? $text : null;
    }

    private function stands(Viewer $viewer, string $word, Wanted $one, SearchWish $wish, ?int $subject): bool
    {
        $forms = 1 === \count($one->clause->words) && [] !== $one->forms ? $one->forms : [$word];
        $seen = $this->seen->of($viewer, new EngineQuestion(
            [new Wanted(new Clause([$word], false, false, false, $word), $forms)], onlyDescriptions: $wish->onlyDescriptions,
            subject: $subject, most: self::LOOKED_AT, sorted: 0,
        ));

        return [] !== $seen->hits;
    }

    private function meant(Viewer $viewer, string $word, SearchWish $wish, ?int $subject): ?string
    {
        foreach (\array_slice($this->vocabulary->meant($word), 0, self::MOST_TRIED) as $other) {
            if ($this->stands($viewer, $other, new Wanted(new Clause([$other], false, false, true, $other), []), $wish, $subject)) {
                return $other;
            }
        }

        return null;
    }

    private static function replaced(string $text, string $word, string $other): string
    {
        foreach (Folding::tokens($text) as $token) {
            if ($token->word === $word) {
                return substr($text, 0, $token->from).$other.substr($text, $token->to);
            }
        }

        return $text;
    }
}
