<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

use Ypomna\Core\Desk\FieldType;

/** A field of an item, and what it holds. */
final readonly class ShownField
{
    /** @param list<string> $choices */
    public function __construct(public string $name, public FieldType $type, public array $choices, private mixed $value)
    {
    }

    /** As people write it; '' if it is empty. */
    public function text(): string
    {
        if (\is_array($this->value)) {
            $part = fn (string $name): string => \is_scalar($this->value[$name] ?? null) ? (string) $this->value[$name] : '';
            if (FieldType::Number === $this->type || \array_key_exists('value', $this->value)) {
                return trim($part('value').' '.$part('unit'));
            }
            $degrees = '' === $part('latitude') ? '' : $part('latitude').', '.$part('longitude');

            return '' === $part('name') || '' === $degrees ? $part('name').$degrees : $part('name').' ('.$degrees.')';
        }

        return \is_string($this->value) ? $this->value : '';
    }

    /** That opens a map (RFC 5870); null of what is no place with coordinates. */
    public function geo(): ?string
    {
        $value = \is_array($this->value) ? $this->value : [];
        $isPlace = is_numeric($value['latitude'] ?? null) && is_numeric($value['longitude'] ?? null);

        return $isPlace ? \sprintf('geo:%s,%s', (string) $value['latitude'], (string) $value['longitude']) : null;
    }
}
