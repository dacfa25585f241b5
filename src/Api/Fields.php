<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Exception\BadRequestHttpException;
use Symfony\Component\HttpKernel\Exception\HttpException;
use Symfony\Component\HttpKernel\Exception\UnsupportedMediaTypeHttpException;

/**
 * The fields of a body of JSON, taken one by one. What is left at the end nobody knows; all that is wrong is told at once, with where it
 * stands.
 */
final class Fields
{
    /** Of a body, in bytes. */
    public const LARGEST = 2_097_152;
    private const DEEPEST = 64;

    /** @var list<array{pointer: string, detail: string}> */
    private array $errors = [];
    /** @var array<string, true> */
    private array $known = [];

    /**
     * @param array<array-key, mixed> $values
     * @param string $above where they stand: a pointer without its first stroke, with one at its end
     */
    private function __construct(private readonly array $values, private readonly string $above = '')
    {
    }

    /** @param list<string> $types media types that are taken */
    public static function of(Request $request, array $types = ['application/json']): self
    {
        $type = strtolower(trim(explode(';', $request->headers->get('Content-Type') ?? '')[0]));
        if (!\in_array($type, $types, true)) {
            throw new UnsupportedMediaTypeHttpException();
        }
        if ((int) $request->headers->get('Content-Length') > self::LARGEST || \strlen($request->getContent()) > self::LARGEST) {
            throw new HttpException(413);
        }

        return self::ofText($request->getContent());
    }

    /** @param string $above where it stands, as a pointer without its first stroke and with one at its end */
    public static function ofText(string $json, string $above = ''): self
    {
        if (\strlen($json) > self::LARGEST) {
            throw new HttpException(413);
        }
        try {
            $values = json_decode($json, false, self::DEEPEST, \JSON_THROW_ON_ERROR | \JSON_BIGINT_AS_STRING);
        } catch (\JsonException) {
            throw new BadRequestHttpException();
        }
        if (!$values instanceof \stdClass) {
            throw InvalidFields::at('' === $above ? '' : '/'.rtrim($above, '/'), 'An object is wanted.');
        }

        return new self((array) $values, $above);
    }

    public static function ofPatch(Request $request): self
    {
        return self::of($request, ['application/json', 'application/merge-patch+json']);
    }

    public function has(string $name): bool
    {
        return \array_key_exists($name, $this->values);
    }

    /** Whether nothing is said but that. */
    public function hasOnly(string $name): bool
    {
        return [$name] === array_keys($this->values);
    }

    /** Whether something is wrong so far. */
    public function isWrong(): bool
    {
        return [] !== $this->errors;
    }

    /** A text in NFC; null if it is not there, or null. */
    public function text(string $name, int $most, bool $mayBeNull = true): ?string
    {
        $value = $this->value($name);
        if (null === $value) {
            if (!$mayBeNull && $this->has($name)) {
                $this->wrong($name, 'A text is wanted.');
            }

            return null;
        }
        if (!\is_string($value)) {
            $this->wrong($name, 'A text is wanted.');

            return null;
        }
        $value = self::composed($value);
        if (mb_strlen($value) > $most) {
            $this->wrong($name, \sprintf('At most %d characters are taken.', $most));

            return null;
        }

        return $value;
    }

    public function bool(string $name): ?bool
    {
        $value = $this->value($name);
        if (null !== $value && !\is_bool($value)) {
            $this->wrong($name, 'true or false is wanted.');
        }

        return \is_bool($value) ? $value : null;
    }

    /** @return list<string>|null texts */
    public function texts(string $name, int $most, int $longest): ?array
    {
        $value = $this->value($name);
        if (null === $value) {
            return null;
        }
        if (!\is_array($value) || !array_is_list($value)) {
            $this->wrong($name, 'A list of texts is wanted.');

            return null;
        }
        if (\count($value) > $most) {
            $this->wrong($name, \sprintf('At most %d are taken.', $most));

            return null;
        }
        $texts = [];
        foreach ($value as $n => $one) {
            if (!\is_string($one) || mb_strlen($one) > $longest || '' === trim($one)) {
                $this->wrong($name.'/'.$n, \sprintf('A text of at most %d characters is wanted.', $longest));
            } else {
                $texts[] = self::composed($one);
            }
        }

        return $texts;
    }

    /** @return list<int>|null null if nothing is said */
    public function numbers(string $name, int $most): ?array
    {
        $value = $this->value($name);
        if (null === $value) {
            return null;
        }
        if (!\is_array($value) || !array_is_list($value) || \count($value) > $most) {
            $this->wrong($name, \sprintf('A list of at most %d whole numbers is wanted.', $most));

            return null;
        }
        $numbers = [];
        foreach ($value as $n => $one) {
            if (\is_int($one)) {
                $numbers[] = $one;
            } else {
                $this->wrong($name.'/'.$n, 'A whole number is wanted.');
            }
        }

        return $numbers;
    }

    /**
     * One of a closed set.
     *
     * @template T of \BackedEnum
     *
     * @param class-string<T> $enum
     *
     * @return T|null
     */
    public function one(string $name, string $enum): ?\BackedEnum
    {
        $value = $this->value($name);
        if (null === $value) {
            return null;
        }
        $found = \is_string($value) ? $enum::tryFrom($value) : null;
        if (null === $found) {
            $this->wrong($name, 'One of these is wanted: '.implode(', ', array_column($enum::cases(), 'value')).'.');
        }

        return $found;
    }

    /** A whole number, not below zero. */
    public function number(string $name): ?int
    {
        $value = $this->value($name);
        if (null !== $value && (!\is_int($value) || $value < 0)) {
            $this->wrong($name, 'A whole number is wanted.');
        }

        return \is_int($value) ? $value : null;
    }

    /** A number, whole or not. */
    public function decimal(string $name): ?float
    {
        $value = $this->value($name);
        if (null !== $value && !\is_int($value) && !\is_float($value)) {
            $this->wrong($name, 'A number is wanted.');
        }

        return \is_int($value) || \is_float($value) ? (float) $value : null;
    }

    /** A moment (RFC 3339). */
    public function moment(string $name): ?\DateTimeImmutable
    {
        $value = $this->value($name);
        if (null === $value) {
            return null;
        }
        $form = '/^\d{4}-\d\d-\d\d[Tt]\d\d:\d\d:\d\d(?:\.\d{1,9})?(?:[Zz]|[+-]\d\d:\d\d)$/D';
        try {
            $moment = \is_string($value) && 1 === preg_match($form, $value) ? new \DateTimeImmutable($value) : null;
        } catch (\Exception) {
            $moment = null;
        }
        if (null === $moment) {
            $this->wrong($name, 'A moment is wanted, as 2024-11-03T10:00:00Z.');
        }

        return $moment;
    }

    /** @return list<self>|null the fields of each of several objects; null if they are not there */
    public function list(string $name, int $most): ?array
    {
        $value = $this->value($name);
        if (null === $value) {
            return null;
        }
        if (!\is_array($value) || !array_is_list($value) || \count($value) > $most) {
            $this->wrong($name, \sprintf('A list of at most %d objects is wanted.', $most));

            return null;
        }
        $list = [];
        foreach ($value as $n => $one) {
            if ($one instanceof \stdClass) {
                $list[] = new self((array) $one, $this->above.$name.'/'.$n.'/');
            } else {
                $this->wrong($name.'/'.$n, 'An object is wanted.');
            }
        }

        return $list;
    }

    /** The fields of an object in this one; null if it is not there. */
    public function inner(string $name): ?self
    {
        $map = $this->map($name);

        return null === $map ? null : new self($map, $this->above.$name.'/');
    }

    /** What is wrong in them is wrong in these. */
    public function take(?self $inner): void
    {
        try {
            $inner?->done();
        } catch (InvalidFields $e) {
            array_push($this->errors, ...$e->errors);
        }
    }

    /** A day, `YYYY-MM-DD`. */
    public function day(string $name): ?\DateTimeImmutable
    {
        $value = $this->value($name);
        if (null === $value) {
            return null;
        }
        $day = \is_string($value) ? \DateTimeImmutable::createFromFormat('!Y-m-d', $value, new \DateTimeZone('UTC')) : false;
        if (false === $day || $day->format('Y-m-d') !== $value) {
            $this->wrong($name, 'A day is wanted, as 2024-11-03.');

            return null;
        }

        return $day;
    }

    /** @return array<string, mixed>|null an object */
    public function map(string $name): ?array
    {
        $value = $this->value($name);
        if (null === $value) {
            return null;
        }
        if (!$value instanceof \stdClass) {
            $this->wrong($name, 'An object is wanted.');

            return null;
        }
        $map = [];
        foreach ((array) $value as $key => $one) {
            $map[(string) $key] = $one;
        }

        return $map;
    }

    public function wrong(string $name, string $detail): void
    {
        $this->errors[] = ['pointer' => '/'.$this->above.$name, 'detail' => $detail];
    }

    /** A part of a pointer (RFC 6901). */
    public static function escaped(string $part): string
    {
        return strtr($part, ['~' => '~0', '/' => '~1']);
    }

    /** @throws InvalidFields if something is wrong, or was asked for by nobody */
    public function done(): void
    {
        foreach (array_keys($this->values) as $name) {
            if (!isset($this->known[(string) $name])) {
                $this->wrong(self::escaped((string) $name), 'No such field is known here.');
            }
        }
        if ([] !== $this->errors) {
            throw new InvalidFields($this->errors);
        }
    }

    /** In the form in which texts are kept (Unicode Normalization Form C). */
    private static function composed(string $text): string
    {
        $composed = \Normalizer::normalize($text);

        return \is_string($composed) ? $composed : $text;
    }

    private function value(string $name): mixed
    {
        $this->known[$name] = true;

        return $this->values[$name] ?? null;
    }
}
