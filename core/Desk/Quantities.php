<?php

declare(strict_types=1);

namespace Ypomna\Core\Desk;

/**
 * Numbers with units, compared and summed: those of one kind together, whatever their unit, told in the unit that most of them have. The
 * factors are exact (The International System of Units, 9th edition, and the international yard and pound of 1959). A unit that is not
 * known is of a kind of its own; degrees of temperature are, too, since they cannot be summed.
 */
final class Quantities
{
    /** What one of each is, in the unit of its kind. */
    private const UNITS = [
        'length' => [
            'mm' => 0.001, 'cm' => 0.01, 'dm' => 0.1, 'm' => 1, 'km' => 1_000, 'in' => 0.0254, 'ft' => 0.3048, 'yd' => 0.9144,
            'mi' => 1_609.344,
            'nmi' => 1_852, 'sm' => 1_852,
        ],
        'mass' => ['mg' => 0.000001, 'g' => 0.001, 'kg' => 1, 't' => 1_000, 'lb' => 0.45359237, 'oz' => 0.028349523125],
        'time' => ['ms' => 0.001, 's' => 1, 'min' => 60, 'h' => 3_600, 'd' => 86_400],
        'area' => ['cm²' => 0.0001, 'm²' => 1, 'ha' => 10_000, 'km²' => 1_000_000, 'm2' => 1, 'km2' => 1_000_000, 'cm2' => 0.0001],
        'volume' => ['ml' => 0.000001, 'cl' => 0.00001, 'l' => 0.001, 'L' => 0.001, 'mL' => 0.000001, 'm³' => 1, 'm3' => 1,
            'cm³' => 0.000001],
        'speed' => ['m/s' => 1, 'km/h' => 1 / 3.6, 'kn' => 1_852 / 3_600, 'mph' => 0.44704],
        'pressure' => ['Pa' => 1, 'hPa' => 100, 'kPa' => 1_000, 'mbar' => 100, 'bar' => 100_000],
        'power' => ['W' => 1, 'kW' => 1_000, 'MW' => 1_000_000],
        'energy' => ['J' => 1, 'kJ' => 1_000, 'MJ' => 1_000_000, 'Wh' => 3_600, 'kWh' => 3_600_000],
        'data' => ['B' => 1, 'kB' => 1_000, 'MB' => 1_000_000, 'GB' => 1_000_000_000, 'KiB' => 1_024, 'MiB' => 1_048_576],
    ];

    /**
     * @param list<array{float, string}> $numbers with their units; '' for none
     *
     * @return list<QuantityGroup> the largest first
     */
    public static function compared(array $numbers): array
    {
        $groups = $units = [];
        foreach ($numbers as [$value, $unit]) {
            if (!is_finite($value)) {
                continue;
            }
            [$kind, $factor] = self::kind($unit);
            $groups[$kind][] = $value * $factor;
            $units[$kind][$unit] = ($units[$kind][$unit] ?? 0) + 1;
        }
        $compared = [];
        foreach ($groups as $kind => $values) {
            arsort($units[$kind]);
            $unit = (string) array_key_first($units[$kind]);
            $factor = self::kind($unit)[1];
            sort($values);
            $count = \count($values);
            $middle = ($values[intdiv($count - 1, 2)] + $values[intdiv($count, 2)]) / 2;
            $compared[] = new QuantityGroup(
                $unit, $count, self::rounded(array_sum($values) / $factor), self::rounded($values[0] / $factor),
                self::rounded($values[$count - 1] / $factor), self::rounded($middle / $factor), \count($units[$kind]) > 1,
            );
        }
        usort($compared, static fn (QuantityGroup $a, QuantityGroup $b): int => [$b->count, $a->unit] <=> [$a->count, $b->unit]);

        return $compared;
    }

    /** What a number is in the unit of its kind, by which two of one kind are put in order. */
    public static function plain(float $value, string $unit): float
    {
        return $value * self::kind($unit)[1];
    }

    /** @return array{string, float} */
    private static function kind(string $unit): array
    {
        foreach (self::UNITS as $kind => $units) {
            if (isset($units[$unit])) {
                return [$kind, (float) $units[$unit]];
            }
        }

        return ['unit '.$unit, 1.0];
    }

    /** Without the last digits, which binary fractions bring along. */
    private static function rounded(float $value): float
    {
        return 0.0 === $value ? 0.0 : round($value, max(0, min(12, 11 - (int) floor(log10(abs($value))))));
    }
}
