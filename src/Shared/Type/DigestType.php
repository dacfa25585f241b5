<?php

declare(strict_types=1);

namespace Ypomna\App\Shared\Type;

use Doctrine\DBAL\Platforms\AbstractPlatform;
use Doctrine\DBAL\Types\Type;

/** A digest: bytes in the database, hex outside. */
final class DigestType extends Type
{
    public function getSQLDeclaration(array $column, AbstractPlatform $platform): string
    {
        $length = $column['length'] ?? 32;

        return 'BINARY('.(\is_int($length) ? $length : 32).')';
    }

    public function convertToDatabaseValue(mixed $value, AbstractPlatform $platform): ?string
    {
        return \is_string($value) ? (string) hex2bin($value) : null;
    }

    public function convertToPHPValue(mixed $value, AbstractPlatform $platform): ?string
    {
        return \is_string($value) ? bin2hex($value) : null;
    }
}
