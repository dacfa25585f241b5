<?php

declare(strict_types=1);

namespace Ypomna\Core\Desk;

use Ypomna\Core\Address\Url;

/** What a field of an item holds. */
enum FieldType: string
{
    case Text = 'text';
    /** {@see UncertainDate}. */
    case Date = 'date';
    /** A name, degrees of latitude and longitude (WGS 84), or both. */
    case Place = 'place';
    case Person = 'person';
    /** A number, with its unit if it has one. */
    case Number = 'number';
    /** A URL. */
    case Address = 'address';
    /** One of the choices that the field has. */
    case Choice = 'choice';

    private const LONGEST = 10_000;
    private const LONGEST_NAME = 1_000;
    private const LONGEST_UNIT = 50;

    /** What a value is by its form, where nothing says what it should be. */
    public static function of(mixed $value): self
    {
        return match (true) {
            \is_array($value) && \array_key_exists('value', $value) => self::Number,
            \is_array($value) => self::Place,
            default => self::Text,
        };
    }

    /**
     * A value of this type in the form in which it is kept.
     *
     * @param list<string> $choices
     *
     * @return string|array<string, string|int|float>
     *
     * @throws InvalidValue
     */
    public function value(mixed $value, array $choices = []): string|array
    {
        if (self::Place === $this) {
            return self::place($value);
        }
        if (self::Number === $this) {
            return self::number($value);
        }
        if (!\is_string($value)) {
            throw new InvalidValue('A text is wanted.');
        }
        if (mb_strlen($value) > self::LONGEST) {
            throw new InvalidValue(\sprintf('At most %d characters are taken.', self::LONGEST));
        }
        if (self::Choice === $this && [] !== $choices && !\in_array($value, $choices, true)) {
            throw new InvalidValue('One of these is wanted: '.implode(', ', $choices).'.');
        }
        if (self::Address === $this && null === Url::tryParse($value)) {
            throw new InvalidValue('An address is wanted, as http://lantern.test/.');
        }

        return self::Date === $this ? UncertainDate::parse($value)->text : $value;
    }

    /**
     * @return array<string, string|int|float>
     *
     * @throws InvalidValue
     */
    private static function place(mixed $value): array
    {
        $place = [];
        foreach (\is_array($value) ? $value : ['' => null] as $key => $one) {
            $isDegree = \in_array($key, ['latitude', 'longitude'], true);
            if (null === $one && \in_array($key, ['name', 'latitude', 'longitude'], true)) {
                continue;
            }
            $most = 'latitude' === $key ? 90 : 180;
            if ($isDegree && (\is_int($one) || \is_float($one)) && $one >= -$most && $one <= $most) {
                $place[$key] = $one;
            } elseif ('name' === $key && \is_string($one) && mb_strlen($one) <= self::LONGEST_NAME) {
                $place[$key] = $one;
            } else {
                throw new InvalidValue('A place is wanted: a name, and latitude and longitude in degrees.');
            }
        }
        if (isset($place['latitude']) !== isset($place['longitude']) || [] === $place) {
            throw new InvalidValue('A place has a name, both coordinates, or all three.');
        }

        return $place;
    }

    /**
     * @return array<string, string|int|float>
     *
     * @throws InvalidValue
     */
    private static function number(mixed $value): array
    {
        $number = \is_array($value) ? $value['value'] ?? null : null;
        $unit = \is_array($value) ? $value['unit'] ?? null : null;
        if (!\is_array($value) || [] !== array_diff(array_keys($value), ['value', 'unit']) || (!\is_int($number) && !\is_float($number))
            || (null !== $unit && (!\is_string($unit) || mb_strlen($unit) > self::LONGEST_UNIT))) {
            throw new InvalidValue('A number is wanted, with its unit if it has one, as {"value": 12, "unit": "cm"}.');
        }

        return ['value' => $number] + (null === $unit || '' === $unit ? [] : ['unit' => $unit]);
    }
}
