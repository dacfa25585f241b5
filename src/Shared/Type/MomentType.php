<?php

declare(strict_types=1);

namespace Ypomna\App\Shared\Type;

use Doctrine\DBAL\Platforms\AbstractPlatform;
use Doctrine\DBAL\Types\Type;

/** A moment in UTC with microseconds, which the types that come with the library drop. */
final class MomentType extends Type
{
    public const FORMAT = 'Y-m-d H:i:s.u';

    public function getSQLDeclaration(array $column, AbstractPlatform $platform): string
    {
        return 'DATETIME(6)';
    }

    public function convertToDatabaseValue(mixed $value, AbstractPlatform $platform): ?string
    {
        return $value instanceof \DateTimeInterface ? self::text($value) : null;
    }

    public function convertToPHPValue(mixed $value, AbstractPlatform $platform): ?\DateTimeImmutable
    {
        return \is_string($value) ? self::moment($value) : null;
    }

    public static function text(\DateTimeInterface $moment): string
    {
        return \DateTimeImmutable::createFromInterface($moment)->setTimezone(new \DateTimeZone('UTC'))->format(self::FORMAT);
    }

    public static function moment(string $text): \DateTimeImmutable
    {
        return new \DateTimeImmutable($text, new \DateTimeZone('UTC'));
    }
}
