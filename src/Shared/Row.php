<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

use Ypomna\App\Shared\Type\MomentType;

/** A row as the database driver gives it, read with types. */
final readonly class Row
{
    /**
     * @param array<string, mixed> $values
     */
    public function __construct(private array $values)
    {
    }

    /**
     * A row that may not be there; asking it for something that has to be then fails.
     *
     * @param array<string, mixed>|false $values
     */
    public static function of(array|false $values): self
    {
        return new self(false === $values ? [] : $values);
    }

    public function int(string $name): int
    {
        return $this->intOrNull($name) ?? throw new \LogicException(\sprintf('The column %s holds no number.', $name));
    }

    public function intOrNull(string $name): ?int
    {
        $value = $this->values[$name] ?? null;

        return is_numeric($value) ? (int) $value : null;
    }

    public function floatOrNull(string $name): ?float
    {
        $value = $this->values[$name] ?? null;

        return is_numeric($value) ? (float) $value : null;
    }

    public function text(string $name): string
    {
        return $this->textOrNull($name) ?? throw new \LogicException(\sprintf('The column %s holds no text.', $name));
    }

    public function textOrNull(string $name): ?string
    {
        $value = $this->values[$name] ?? null;

        return \is_string($value) ? $value : (\is_int($value) || \is_float($value) ? (string) $value : null);
    }

    public function moment(string $name): \DateTimeImmutable
    {
        return MomentType::moment($this->text($name));
    }

    public function momentOrNull(string $name): ?\DateTimeImmutable
    {
        $value = $this->textOrNull($name);

        return null === $value ? null : MomentType::moment($value);
    }
}
