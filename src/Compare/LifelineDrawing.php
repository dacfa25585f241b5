<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Ypomna\App\Compare\Value\LifelineView;
use Ypomna\Core\Compare\Lifeline;
use Ypomna\Core\Compare\Lifelines;

/** Lifelines as they are drawn: a row a passage, time across. */
final readonly class LifelineDrawing
{
    public const WIDTH = 640;
    private const PER_PAGE = 120;

    /**
     * @var list<array{
     *     number: int, text: string, kind: string, heading: string, bars: list<array{x: float, width: float, open: bool}>,
     *     turns: list<float>, wordings: int, first: string, last: string, stands: bool, code: string,
     * }>
     */
    public array $rows;
    public int $total;
    public int $shown;
    public int $pages;
    /** @var list<array{x: float, at: string, code: string, came: int, went: int, reworded: int}> */
    public array $captures;
    /** @var list<array{x: float, label: string}> */
    public array $years;

    /** @param array<int, string> $codes of captures by id */
    public function __construct(Lifelines $lines, LifelineView $view, array $codes)
    {
        $captures = $lines->captures();
        $last = \count($captures) - 1;
        $moments = array_map(static fn (array $capture): int => (int) strtotime($capture['at']), $captures);
        $span = max(1, ($moments[$last] ?? 0) - ($moments[0] ?? 0));
        // Time across; where captures lie close together, each still has a little room.
        $x = [];
        $least = min(6.0, self::WIDTH / max(1, \count($captures)));
        foreach ($moments as $n => $moment) {
            $x[] = 0 === $n ? 0.0 : max($x[$n - 1] + 0.3 * $least, self::WIDTH * 0.96 * ($moment - $moments[0]) / $span);
        }
        $scale = self::WIDTH * 0.96 / max(1.0, $x[$last] ?? 1.0);
        $x = array_map(static fn (float $one): float => round($one * $scale, 1), $x);
        $end = (float) self::WIDTH;
        $all = $lines->byPlace();
        $numbers = array_map(static fn (Lifeline $line): int => spl_object_id($line), $all);
        $numberOf = array_flip($numbers);
        $ordered = 'time' === $view->order ? $lines->byTime() : $all;
        $onDay = '' === $view->day ? null : self::captureOn($captures, $view->day);
        $chosen = array_values(array_filter($ordered, static fn (Lifeline $line): bool => $line->says($view->word) && match ($view->show) {
            'all' => true,
            'reworded' => \count($line->wordings) > 1,
            'gone' => $line->last() < $last,
            // What was not there, or not so, at the capture before.
            'new' => null !== $line->at($onDay ?? $last) && $line->at($onDay ?? $last) !== $line->at(($onDay ?? $last) - 1),
            default => $line->first() > 0 || $line->last() < $last || \count($line->wordings) > 1 || \count($line->spans) > 1,
        } && (null === $onDay || null !== $line->at($onDay))));
        $this->total = \count($all);
        $this->shown = \count($chosen);
        $this->pages = max(1, (int) ceil($this->shown / self::PER_PAGE));
        $this->rows = array_map(static function (Lifeline $line) use ($x, $end, $last, $onDay, $captures, $codes, $numberOf): array {
            $bars = [];
            foreach ($line->spans as [$from, $to]) {
                $right = $to >= $last ? $end : ($x[$to + 1] ?? $end);
                // How long it stood after the last capture in which it was seen is not known: the bar ends in an open half.
                $bars[] = [
                    'x' => $x[$from], 'width' => max(3.0, round(($to >= $last ? $right : $x[$to]) - $x[$from], 1)), 'open' => $to < $last,
                ];
            }
            $at = $onDay ?? min($last, $line->last());

            return [
                'number' => $numberOf[spl_object_id($line)], 'text' => $line->at($at) ?? $line->wordings[\count($line->wordings) - 1][1],
                'kind' => $line->kind, 'heading' => $line->heading, 'bars' => $bars,
                'turns' => array_map(static fn (array $wording): float => $x[$wording[0]], \array_slice($line->wordings, 1)),
                'wordings' => \count($line->wordings),
                'first' => $captures[$line->first()]['at'], 'last' => $captures[$line->last()]['at'], 'stands' => $line->last() >= $last,
                'code' => $codes[$captures[$line->last()]['id']] ?? '',
            ];
        }, \array_slice($chosen, ($view->page - 1) * self::PER_PAGE, self::PER_PAGE));
        $this->captures = self::days($captures, $all, $x, $codes);
        $this->years = self::years($moments, $x);
    }

    /** @param list<array{id: int, at: string}> $captures */
    private static function captureOn(array $captures, string $day): int
    {
        $found = 0;
        foreach ($captures as $n => $capture) {
            $found = substr($capture['at'], 0, 10) <= $day ? $n : $found;
        }

        return $found;
    }

    /**
     * @param list<array{id: int, at: string}> $captures
     * @param list<Lifeline> $lines
     * @param list<float> $x
     * @param array<int, string> $codes
     *
     * @return list<array{x: float, at: string, code: string, came: int, went: int, reworded: int}>
     */
    private static function days(array $captures, array $lines, array $x, array $codes): array
    {
        $came = $went = $reworded = [];
        foreach ($lines as $line) {
            foreach ($line->spans as [$from, $to]) {
                $came[$from] = 1 + ($came[$from] ?? 0);
                $went[$to + 1] = 1 + ($went[$to + 1] ?? 0);
            }
            foreach (\array_slice($line->wordings, 1) as [$at]) {
                $reworded[$at] = 1 + ($reworded[$at] ?? 0);
            }
        }
        $days = [];
        foreach ($captures as $n => $capture) {
            $days[] = [
                'x' => $x[$n], 'at' => $capture['at'], 'code' => $codes[$capture['id']] ?? '', 'came' => 0 === $n ? 0 : $came[$n] ?? 0,
                'went' => $went[$n] ?? 0, 'reworded' => $reworded[$n] ?? 0,
            ];
        }

        return $days;
    }

    /**
     * @param list<int> $moments
     * @param list<float> $x
     *
     * @return list<array{x: float, label: string}>
     */
    private static function years(array $moments, array $x): array
    {
        $marks = [];
        $format = ($moments[\count($moments) - 1] ?? 0) - ($moments[0] ?? 0) > 700 * 86_400 ? 'Y' : 'Y-m';
        foreach ($moments as $n => $moment) {
            $label = gmdate($format, $moment);
            if ([] === $marks || ($marks[\count($marks) - 1]['label'] !== $label && $x[$n] - $marks[\count($marks) - 1]['x'] > 56)) {
                $marks[] = ['x' => $x[$n], 'label' => $label];
            }
        }

        return $marks;
    }
}
