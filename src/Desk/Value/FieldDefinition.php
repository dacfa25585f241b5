<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

use Ypomna\Core\Desk\FieldType;

/** A field that the items of a dossier have. */
final readonly class FieldDefinition
{
    public const LONGEST_NAME = 200;
    public const MOST_CHOICES = 200;

    /** @param list<string> $choices of a choice */
    public function __construct(public string $name, public FieldType $type, public array $choices = [])
    {
    }

    /** @return array{name: string, type: string, choices?: list<string>} */
    public function data(): array
    {
        return ['name' => $this->name, 'type' => $this->type->value] + ([] === $this->choices ? [] : ['choices' => $this->choices]);
    }

    /** @param array<string, mixed> $data as {@see self::data()} wrote it */
    public static function of(array $data): self
    {
        $choices = \is_array($data['choices'] ?? null) ? array_values(array_filter($data['choices'], \is_string(...))) : [];

        return new self(
            \is_string($data['name'] ?? null) ? $data['name'] : '',
            FieldType::tryFrom(\is_string($data['type'] ?? null) ? $data['type'] : '') ?? FieldType::Text, $choices,
        );
    }
}
