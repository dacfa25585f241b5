<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

/** The markup of two pages, tag by tag in lines, compared. */
final class SourceLines
{
    private const MOST = 60_000;
    private const CONTEXT = 2;

    /**
     * @param string $old UTF-8
     * @param string $new UTF-8
     *
     * @return list<array{string, string}> `+`, `-`, ` ` or, between parts that differ, `…`; and the line
     */
    public static function of(string $old, string $new): array
    {
        $before = self::lines($old);
        $after = self::lines($new);
        $all = [];
        $a = $b = 0;
        foreach ([...Alignment::of($before, $after), [\count($before), \count($after)]] as [$i, $j]) {
            for (; $a < $i; ++$a) {
                $all[] = ['-', $before[$a]];
            }
            for (; $b < $j; ++$b) {
                $all[] = ['+', $after[$b]];
            }
            if (isset($before[$i])) {
                $all[] = [' ', $before[$i]];
            }
            [$a, $b] = [$i + 1, $j + 1];
        }

        return self::folded($all);
    }

    /**
     * @return list<string> a tag or a text a line
     */
    private static function lines(string $html): array
    {
        $html = (string) preg_replace('/\s+/', ' ', $html);
        $pieces = (array) preg_split('~(?<=>)\s*(?=<)|(?<=>)\s+|\s+(?=<)|(?<=>)(?=[^<\s])|(?<=[^>\s])(?=<)~', $html, self::MOST);

        return array_values(array_filter(
            array_map(static fn (mixed $piece): string => mb_strcut(trim(\is_string($piece) ? $piece : ''), 0, 2_000), $pieces),
            static fn (string $piece): bool => '' !== $piece,
        ));
    }

    /**
     * @param list<array{string, string}> $all
     *
     * @return list<array{string, string}>
     */
    private static function folded(array $all): array
    {
        $near = [];
        foreach ($all as $n => [$sign]) {
            if (' ' !== $sign) {
                for ($k = $n - self::CONTEXT; $k <= $n + self::CONTEXT; ++$k) {
                    $near[$k] = true;
                }
            }
        }
        $out = [];
        $gap = false;
        foreach ($all as $n => $line) {
            if (isset($near[$n])) {
                $out[] = $line;
                $gap = false;
            } elseif (!$gap) {
                $out[] = ['…', ''];
                $gap = true;
            }
        }

        return $out;
    }
}
