<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Value\DatedItem;
use Ypomna\App\Desk\Value\DossierView;
use Ypomna\App\Desk\Value\ItemOrder;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Desk\FieldType;
use Ypomna\Core\Desk\InvalidValue;
use Ypomna\Core\Desk\UncertainDate;

/** The items of a dossier and of those below it by what a date field says: when that was of which they speak. */
final readonly class Chronology
{
    public const MOST = 5_000;

    public function __construct(private ItemRepository $items, private ItemFields $fields, private CaptureLists $captures)
    {
    }

    /**
     * @param DossierView $view by which field, and which of the items; where no field is named, by the first date field that there is
     *
     * @return array{string|null, list<string>, list<DatedItem>} the field, all date fields that are used, and the items by their dates
     */
    public function of(Viewer $viewer, Dossier $dossier, DossierView $view): array
    {
        $known = [];
        foreach ($this->fields->ofDossiers([$dossier]) as $name => $one) {
            if (FieldType::Date === $one->type) {
                $known[] = (string) $name;
            }
        }
        $rows = [];
        foreach ($this->items->fields($viewer, (new DossierView(
            order: ItemOrder::Oldest, kind: $view->kind, tag: $view->tag, important: $view->important, dueBefore: $view->dueBefore,
            words: $view->words,
        ))->items(null, $dossier->code, null, self::MOST)) as $row) {
            foreach ($row->fields as $name => $value) {
                $date = \is_string($value) ? self::date($value, \in_array((string) $name, $known, true)) : null;
                if (null !== $date) {
                    $rows[$name][] = [$row, $date];
                }
            }
        }
        // A name that is a number is one in an array.
        $used = array_map(strval(...), array_keys($rows));
        $names = array_values(array_unique([...array_values(array_intersect($known, $used)), ...$used]));
        $chosen = \in_array($view->field, $names, true) ? $view->field : $names[0] ?? null;
        $captures = $this->captures->facts($viewer, array_values(array_unique(array_filter(
            array_map(static fn (array $one): ?string => $one[0]->capture, null === $chosen ? [] : $rows[$chosen]),
            static fn (?string $code): bool => null !== $code,
        ))));
        $entries = array_map(
            static fn (array $one): DatedItem => new DatedItem($one[0], $captures[$one[0]->capture ?? ''] ?? null, $one[1]),
            null === $chosen ? [] : $rows[$chosen],
        );
        usort($entries, static fn (DatedItem $a, DatedItem $b): int => [$a->date->sortDay(), $a->date->last ?? \PHP_INT_MAX]
            <=> [$b->date->sortDay(), $b->date->last ?? \PHP_INT_MAX]);

        return [$chosen, $names, $entries];
    }

    /** Where nobody said that a field holds dates, a mere number is none. */
    private static function date(string $value, bool $isDate): ?UncertainDate
    {
        if (!$isDate && 1 !== preg_match('~^\d{4}-\d\d|^\.\./|/~', $value)) {
            return null;
        }
        try {
            return UncertainDate::parse($value);
        } catch (InvalidValue) {
            return null;
        }
    }
}
