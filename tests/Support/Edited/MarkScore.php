<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support\Edited;

use Ypomna\Core\Annotation\Mark;
use Ypomna\Core\Annotation\Place;
use Ypomna\Core\Annotation\Placing;
use Ypomna\Core\Annotation\Quote;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Passage;
use Ypomna\Core\Page\PassageKind;

/** How well marks are found again on pages that were altered, over many pages. */
final class MarkScore
{
    private const EDITS = [
        'reword', 'reword', 'reword', 'remove', 'add', 'replace', 'replace', 'move', 'moveAndReword', 'cell', 'cell', 'addRow', 'removeRow',
        'addItem', 'removeItem',
    ];
    private const MARKS = 12;

    public int $marks = 0;
    public int $right = 0;
    /** @var array<string, array{int, int}> right and all, by what became of the mark */
    public array $places = [];
    /** @var list<string> */
    public array $misses = [];

    /** @param list<string> $layouts */
    public static function over(array $layouts, int $rounds, int $seed, bool $isOldKnown): self
    {
        $score = new self();
        foreach ($layouts as $layout) {
            foreach (Sentences::LANGUAGES as $l => $language) {
                for ($round = 0; $round < $rounds; ++$round) {
                    $chance = new Chance($seed + 7_919 * $round + 101 * $l + 31 * \strlen($layout) + \ord($layout));
                    $score->page($layout, $language, $chance, $isOldKnown);
                }
            }
        }

        return $score;
    }

    private function page(string $layout, string $language, Chance $chance, bool $isOldKnown): void
    {
        $sentences = new Sentences($chance, $language);
        $content = Content::make($chance, $sentences);
        $before = Layouts::html($layout, $content);
        $edits = new Edits($chance, $sentences, $content);
        for ($i = $chance->between(2, 8); $i > 0; --$i) {
            $edits->apply($chance->of(self::EDITS));
        }
        $after = Layouts::html($layout, $content);
        $after = 0 === $chance->between(0, 1) ? Noise::over($after, $chance) : $after;
        $type = 'text/html; charset=utf-8';
        $old = Document::fromHtml($before, $type);
        $new = Document::fromHtml($after, $type);
        $marks = $expected = [];
        for ($i = 0; $i < self::MARKS; ++$i) {
            [$marks[], $expected[]] = $this->mark($old, $edits, $chance, (string) $i);
        }
        foreach (Placing::all($marks, $new, $isOldKnown ? $old : null) as $n => $found) {
            [$place, $text, $why] = $expected[$n];
            ++$this->marks;
            $isRight = $found->place === $place && (Place::Gone === $place || Document::fromText((string) $found->text)->text() === $text
                || $found->text === $text);
            $this->right += $isRight ? 1 : 0;
            $counts = $this->places[$place->value] ?? [0, 0];
            $this->places[$place->value] = [$counts[0] + ($isRight ? 1 : 0), $counts[1] + 1];
            if (!$isRight) {
                $quote = $marks[$n]->quote;
                $this->misses[] = \sprintf(
                    '%s %s %s: «%s» [%s‸%s] expected %s «%s», found %s «%s»', $layout, $language, $why, $quote->exact ?? '',
                    $quote->prefix ?? '',
                    $quote->suffix ?? '', $place->value, $text, $found->place->value ?? '', $found->text ?? '',
                );
            }
        }
    }

    /** @return array{Mark, array{Place, string, string}} a mark and what became of it */
    private function mark(Document $old, Edits $edits, Chance $chance, string $id): array
    {
        $times = array_count_values(array_map(static fn (Passage $p): string => $p->text, $old->passages));
        $altered = array_flip(array_map(static fn (string $line): string => self::plain(explode('|', $line)[1]), $edits->expected));
        $numbers = array_keys(array_filter($old->passages, static fn (Passage $p): bool => isset($altered[$p->text])));
        do {
            $n = [] !== $numbers && 0 === $chance->between(0, 1)
                ? $chance->of($numbers)
                : $chance->between(0, \count($old->passages) - 1);
            $passage = $old->passages[$n];
            $numbers = array_values(array_diff($numbers, [$n]));
        } while (1 !== $times[$passage->text] || '' === trim($passage->text));
        $text = $passage->text;
        $from = 0;
        $to = mb_strlen($text);
        if (PassageKind::Sentence === $passage->kind && 0 !== $chance->between(0, 2)) {
            preg_match_all('/[\p{L}\p{M}\p{N}-]+/u', $text, $m, \PREG_OFFSET_CAPTURE);
            $count = \count($m[0]);
            $a = $chance->between(0, $count - 1);
            $b = min($count - 1, $a + $chance->between(0, 3));
            $from = mb_strlen(substr($text, 0, $m[0][$a][1]));
            $to = mb_strlen(substr($text, 0, $m[0][$b][1] + \strlen($m[0][$b][0])));
        }
        $exact = mb_substr($text, $from, $to - $from);
        $joint = $chance->of([' ', "\n", '']);
        $before = implode($joint,
            array_map(static fn (Passage $p): string => $p->text, \array_slice($old->passages, max(0, $n - 8), min($n, 8))))
            .$joint.mb_substr($text, 0, $from);
        $after = mb_substr($text, $to).$joint
            .implode($joint, array_map(static fn (Passage $p): string => $p->text, \array_slice($old->passages, $n + 1, 8)));
        $around = $chance->of([32, 32, 32, 60, 16]);
        $mark = new Mark($id, new Quote($exact, mb_substr($before, -$around), mb_substr($after, 0, $around)));

        return [$mark, $this->expected($passage, $edits, $from, $to, $exact)];
    }

    /** @return array{Place, string, string} */
    private function expected(Passage $passage, Edits $edits, int $from, int $to, string $exact): array
    {
        $text = $passage->text;
        foreach ($edits->expected as $line) {
            [$op, $was, $now] = explode('|', $line);
            if (self::plain($was) !== $text || 'added' === $op) {
                continue;
            }
            $now = self::plain($now);
            if ('removed' === $op) {
                return [Place::Gone, '', $op];
            }
            if ('moved' === $op || str_ends_with($now, $text)) {
                return [Place::Same, $exact, $op];
            }
            // One number is another: what is the same before and behind it tells which.
            $same = 0;
            for (; mb_substr($text, $same, 1) === mb_substr($now, $same, 1); ++$same) {
            }
            for (; $same > 0 && 1 === preg_match('/\d/', mb_substr($text, $same - 1, 1)); --$same) {
            }
            $tail = 0;
            for (; $tail < mb_strlen($text) - $same && mb_substr($text, -$tail - 1, 1) === mb_substr($now, -$tail - 1, 1); ++$tail) {
            }
            for (; $tail > 0 && 1 === preg_match('/\d/', mb_substr($text, -$tail, 1)); --$tail) {
            }
            $end = mb_strlen($text) - $tail;
            if ($to <= $same || $from >= $end) {
                return [Place::Same, $exact, $op];
            }

            return [Place::Reworded, mb_substr($now, $from, max(0, mb_strlen($now) - (mb_strlen($text) - $to) - $from)), $op];
        }

        return [Place::Same, $exact, 'left'];
    }

    private static function plain(string $text): string
    {
        return Document::fromText($text)->text() === $text ? $text : (string) preg_replace('/\s+/u', ' ', $text);
    }
}
