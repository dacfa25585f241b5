<?php

declare(strict_types=1);

namespace Ypomna\Core\Recurrence;

use Ypomna\Core\Compare\Noise\InvalidRule;
use Ypomna\Core\Compare\Noise\Selector;
use Ypomna\Core\Compare\PageComparison;
use Ypomna\Core\Compare\PassageChange;
use Ypomna\Core\Compare\WeighedChange;
use Ypomna\Core\Compare\Weighing;
use Ypomna\Core\Compare\Weight;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\PassageKind;

/** When a change of a watched page is to be told. */
final readonly class Condition
{
    private const LONGEST = 500;

    private ?Selector $selector;

    /**
     * @param string $text a phrase; a selector; what stands in the row of a cell
     * @param string $column of a cell: what stands at the head of its column
     *
     * @throws InvalidCondition
     */
    public function __construct(public ConditionKind $kind = ConditionKind::Any, public string $text = '', public string $column = '')
    {
        $needs = match ($kind) {
            ConditionKind::PhraseComes, ConditionKind::PhraseGoes => 'Say which phrase.',
            ConditionKind::Cell => 'Say what stands in the row of the cell, such as the name of a port.',
            ConditionKind::Part => 'Say which part of the page, by a selector such as #prices or .notice.',
            default => null,
        };
        if (null !== $needs && '' === trim($text)) {
            throw new InvalidCondition($needs);
        }
        if (mb_strlen($text) > self::LONGEST || mb_strlen($column) > self::LONGEST) {
            throw new InvalidCondition(\sprintf('More than %d characters are too many.', self::LONGEST));
        }
        if (ConditionKind::Cell === $kind && '' === trim($column)) {
            throw new InvalidCondition('Say what stands at the head of the column of the cell.');
        }
        try {
            $this->selector = ConditionKind::Part === $kind ? Selector::parse($text) : null;
        } catch (InvalidRule $e) {
            throw new InvalidCondition($e->getMessage());
        }
    }

    /** @return ChangeNotice|null null if there is nothing to tell */
    public function between(Document $old, Document $new, Weighing $weighing = new Weighing()): ?ChangeNotice
    {
        return match ($this->kind) {
            ConditionKind::Any => self::substance($old, $new, $weighing),
            ConditionKind::PhraseComes => self::has($new, $this->text) && !self::has($old, $this->text)
                ? new ChangeNotice('', self::sentence($new, $this->text))
                : null,
            ConditionKind::PhraseGoes => self::has($old, $this->text) && !self::has($new, $this->text)
                ? new ChangeNotice(self::sentence($old, $this->text), '')
                : null,
            ConditionKind::Cell => self::differ($this->cell($old), $this->cell($new), true),
            ConditionKind::Part => self::differ($this->part($old), $this->part($new), false),
            ConditionKind::Vanishing => null,
        };
    }

    /** Whether what it looks at is in the page at all; where it is not, it can never be met. */
    public function isIn(Document $page): bool
    {
        return match ($this->kind) {
            ConditionKind::Cell => null !== $this->cell($page),
            ConditionKind::Part => null !== $this->part($page),
            ConditionKind::PhraseGoes => self::has($page, $this->text),
            ConditionKind::PhraseComes => !self::has($page, $this->text),
            default => true,
        };
    }

    private static function substance(Document $old, Document $new, Weighing $weighing): ?ChangeNotice
    {
        $matter = array_values(array_filter(
            array_map(static fn (PassageChange $change): WeighedChange => $weighing->of($change), PageComparison::of($old, $new)->changes),
            static fn (WeighedChange $change): bool => Weight::Substance === $change->weight,
        ));
        // Numbers, dates, names and negations are told first.
        usort($matter, static fn (WeighedChange $a, WeighedChange $b): int => ([] === $a->telling) <=> ([] === $b->telling));
        $first = $matter[0]->change ?? null;

        return null === $first ? null : new ChangeNotice($first->old->text ?? '', $first->new->text ?? '', \count($matter) - 1);
    }

    private static function differ(?string $before, ?string $after, bool $numbers): ?ChangeNotice
    {
        $plain = static fn (?string $text): ?string => null === $text ? null : ($numbers ? self::numbers($text) : self::plain($text));

        return $plain($before) === $plain($after) ? null : new ChangeNotice($before ?? '', $after ?? '');
    }

    /** The numbers of a cell, however their thousands are parted; a cell without any by its words. */
    private static function numbers(string $text): string
    {
        $found = preg_match_all('/\d[\d.,:\x{00A0}\x{202F}\']*/u', $text, $m);

        return \is_int($found) && $found > 0
            ? implode(
                ' ',
                array_map(
                    static fn (string $number): string => rtrim((string) preg_replace('/[\x{00A0}\x{202F}\']/u', '', $number), '.,:'),
                    $m[0],
                ),
            )
            : self::plain($text);
    }

    private function part(Document $page): ?string
    {
        $text = [];
        foreach ($page->passages as $passage) {
            if (true === $this->selector?->matches($passage->path)) {
                $text[] = $passage->text;
            }
        }

        return [] === $text ? null : implode(' ', $text);
    }

    private function cell(Document $page): ?string
    {
        /** @var array<int, array<int, array<int, string>>> $tables */
        $tables = [];
        foreach ($page->passages as $passage) {
            if (PassageKind::Cell === $passage->kind && null !== $passage->cell) {
                $place = $passage->cell;
                $tables[$place->table][$place->row][$place->column] = trim(
                    ($tables[$place->table][$place->row][$place->column] ?? '').' '.$passage->text,
                );
            }
        }
        foreach ($tables as $rows) {
            $column = self::columnOf($rows, $this->column);
            foreach (null === $column ? [] : $rows as $cells) {
                foreach ($cells as $at => $text) {
                    if ($at !== $column && isset($cells[$column]) && self::holds($text, $this->text)) {
                        return $cells[$column];
                    }
                }
            }
        }

        return null;
    }

    /** @param array<int, array<int, string>> $rows */
    private static function columnOf(array $rows, string $head): ?int
    {
        foreach ($rows as $cells) {
            foreach ($cells as $at => $text) {
                if (self::holds($text, $head)) {
                    return $at;
                }
            }
        }

        return null;
    }

    private static function has(Document $page, string $phrase): bool
    {
        return self::holds($page->title.' '.$page->text(), $phrase);
    }

    private static function sentence(Document $page, string $phrase): string
    {
        foreach ($page->passages as $passage) {
            if (self::holds($passage->text, $phrase)) {
                return $passage->text;
            }
        }

        return $phrase;
    }

    private static function holds(string $text, string $phrase): bool
    {
        return str_contains(self::plain($text), self::plain($phrase));
    }

    private static function plain(string $text): string
    {
        return trim((string) preg_replace('/\s+/u', ' ', mb_strtolower(mb_scrub($text))));
    }
}
