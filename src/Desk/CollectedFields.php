<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Value\CollectedField;
use Ypomna\App\Desk\Value\FieldRow;
use Ypomna\App\Desk\Value\ItemOrder;
use Ypomna\App\Desk\Value\ItemQuery;
use Ypomna\App\Desk\Value\ShownField;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Desk\FieldType;
use Ypomna\Core\Desk\Quantities;

/** What the fields of a dossier's items say together: who is named, which numbers, which places. */
final readonly class CollectedFields
{
    public const MOST = 10_000;
    private const MOST_VALUES = 200;
    private const MOST_PLACES = 2_000;

    public function __construct(private ItemRepository $items, private ItemFields $fields)
    {
    }

    /**
     * @return array{list<CollectedField>, bool} in the order of the dossier's fields, then those that items have besides; and whether not
     *     all items were read
     */
    public function of(Viewer $viewer, Dossier $dossier): array
    {
        $types = array_map(static fn ($field): FieldType => $field->type, $this->fields->ofDossiers([$dossier]));
        $held = array_fill_keys(array_keys($types), []);
        $count = 0;
        foreach ($this->items->fields($viewer, new ItemQuery(
            within: $dossier->code, order: ItemOrder::Oldest, most: self::MOST,
        )) as $row) {
            foreach ($row->fields as $name => $value) {
                $types[$name] ??= FieldType::of($value);
                $held[$name][] = [$value, $row];
            }
            ++$count;
        }
        $collected = [];
        foreach ($held as $name => $values) {
            if ([] !== $values) {
                $collected[] = $this->collected((string) $name, $types[$name] ?? FieldType::Text, $values);
            }
        }

        return [$collected, $count >= self::MOST];
    }

    /** @param non-empty-list<array{mixed, FieldRow}> $held */
    private function collected(string $name, FieldType $type, array $held): CollectedField
    {
        $values = $numbers = $places = $sizes = [];
        foreach ($held as [$value, $row]) {
            $text = (new ShownField($name, $type, [], $value))->text();
            if ('' === $text) {
                continue;
            }
            // As somebody writes a name is as it is counted: capitals and accents make no other one.
            $key = mb_strtolower($text);
            $values[$key] ??= ['value' => $text, 'items' => []];
            $values[$key]['items'][] = $row;
            $part = \is_array($value) ? $value : [];
            if (is_numeric($part['value'] ?? null)) {
                $unit = \is_string($part['unit'] ?? null) ? $part['unit'] : '';
                $numbers[] = [(float) $part['value'], $unit];
                $sizes[$key] = Quantities::plain((float) $part['value'], $unit);
            }
            if (is_numeric($part['latitude'] ?? null) && is_numeric($part['longitude'] ?? null) && \count($places) < self::MOST_PLACES) {
                $places[] = [
                    'name' => \is_string($part['name'] ?? null) ? $part['name'] : $text, 'latitude' => (float) $part['latitude'],
                    'longitude' => (float) $part['longitude'], 'item' => $row,
                ];
            }
        }
        uksort($values, static fn (int|string $a, int|string $b): int => FieldType::Number === $type
            ? ($sizes[$b] ?? 0.0) <=> ($sizes[$a] ?? 0.0)
            : [\count($values[$b]['items']), (string) $a] <=> [\count($values[$a]['items']), (string) $b]);

        return new CollectedField(
            $name, $type, array_values(\array_slice($values, 0, self::MOST_VALUES)), Quantities::compared($numbers), $places,
            max(0, \count($values) - self::MOST_VALUES),
        );
    }
}
