<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare\Noise;

use Ypomna\Core\Page\PathStep;

/**
 * Which part of a page is meant, in a small part of Selectors Level 4: names, `#id`, `.class`, `*`, `:nth-of-type(2)`, within
 * (blank) and right within (`>`), several parted by commas. It is held against the way to a passage, not against a document.
 */
final readonly class Selector
{
    private const LONGEST = 1_000;
    private const COMPOUND = '/^(\*|[\p{L}_][\p{L}\p{N}_-]*)?((?:[#.](?:[\p{L}\p{N}_-]|[^\x00-\x7F])+|:nth-of-type\(\s*\d{1,6}\s*\))*)$/u';

    /**
     * @param list<list<array{bool, string, string, list<string>, int}>> $alternatives of compounds: whether it stands right within the one
     *     before, name, id, classes, place
     */
    private function __construct(public string $written, private array $alternatives)
    {
    }

    /**
     * @throws InvalidRule
     */
    public static function parse(string $written): self
    {
        if (\strlen($written) > self::LONGEST) {
            throw new InvalidRule(\sprintf('The selector is longer than %d characters.', self::LONGEST));
        }
        $alternatives = [];
        foreach (explode(',', $written) as $one) {
            $compounds = [];
            $right = false;
            foreach (explode(' ', trim((string) preg_replace('/\s*(>)\s*|\s+/', ' $1 ', trim($one)))) as $piece) {
                if ('' === $piece) {
                    continue;
                }
                if ('>' === $piece) {
                    $right = true;
                    continue;
                }
                $compounds[] = self::compound($piece, $right && [] !== $compounds);
                $right = false;
            }
            if ([] === $compounds || $right) {
                throw new InvalidRule('The selector "'.trim($one).'" names no element.');
            }
            $alternatives[] = $compounds;
        }

        return new self($written, $alternatives);
    }

    /**
     * @return array{bool, string, string, list<string>, int}
     */
    private static function compound(string $piece, bool $right): array
    {
        if (1 !== preg_match(self::COMPOUND, $piece, $m) || '' === $piece) {
            throw new InvalidRule('"'.$piece.'" cannot be used in a selector here; names, #id, .class, :nth-of-type(2), blanks and > can.');
        }
        preg_match_all('/([#.])([^#.:]+)/u', $m[2], $marks, \PREG_SET_ORDER);
        $id = '';
        $classes = [];
        foreach ($marks as [, $sign, $name]) {
            if ('#' === $sign) {
                $id = PathStep::plain($name);
            } else {
                $classes[] = PathStep::plain($name);
            }
        }
        $place = 1 === preg_match('/:nth-of-type\(\s*(\d+)/', $piece, $nth) ? (int) $nth[1] : 0;

        return [$right, '*' === $m[1] ? '' : strtolower($m[1]), $id, $classes, $place];
    }

    /** @param string $path of a passage; whether it, or an element around it, is meant */
    public function matches(string $path): bool
    {
        $steps = self::steps($path);
        foreach ($this->alternatives as $compounds) {
            if (self::matchesOne($compounds, $steps)) {
                return true;
            }
        }

        return false;
    }

    /**
     * Compound by compound from the outside, so time is their number times that of the steps.
     *
     * @param list<array{bool, string, string, list<string>, int}> $compounds
     * @param list<array{string, string, list<string>, int}> $steps
     */
    private static function matchesOne(array $compounds, array $steps): bool
    {
        // Where the compounds so far may end: at this step, and at it or further out.
        $here = $orBefore = [];
        foreach ($compounds as $n => $compound) {
            $ends = $upTo = [];
            $any = false;
            foreach ($steps as $at => $step) {
                $follows = 0 === $n || (($compound[0] ? $here : $orBefore)[$at - 1] ?? false);
                $ends[$at] = $follows && self::isMeant($compound, $step);
                $upTo[$at] = $any = $any || $ends[$at];
            }
            if (!$any) {
                return false;
            }
            [$here, $orBefore] = [$ends, $upTo];
        }

        return true;
    }

    /**
     * @param array{bool, string, string, list<string>, int} $compound
     * @param array{string, string, list<string>, int} $step
     */
    private static function isMeant(array $compound, array $step): bool
    {
        [, $name, $id, $classes, $place] = $compound;

        return ('' === $name || $name === $step[0]) && ('' === $id || $id === $step[1]) && [] === array_diff($classes, $step[2])
            && (0 === $place || $place === $step[3]);
    }

    /**
     * @return list<array{string, string, list<string>, int}>
     */
    private static function steps(string $path): array
    {
        static $known = [];
        /** @var array<string, list<array{string, string, list<string>, int}>> $known */
        if (isset($known[$path])) {
            return $known[$path];
        }
        $steps = [];
        foreach ('' === $path ? [] : explode(' ', $path) as $step) {
            if (1 === preg_match('/^([^#.:]*)(?:#([^.:]+))?((?:\.[^.:]+)*)(?::(\d+))?$/D', $step, $m)) {
                $steps[] = [
                    $m[1],
                    $m[2],
                    array_values(array_filter(explode('.', $m[3]), static fn (string $class): bool => '' !== $class)),
                    (int) ($m[4] ?? 0),
                ];
            }
        }
        if (\count($known) > 5_000) {
            $known = [];
        }

        return $known[$path] = $steps;
    }
}
