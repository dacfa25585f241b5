<?php

declare(strict_types=1);

namespace Ypomna\Core\Account;

/** The name by which somebody signs in, and under which their acts are written down: it is never changed. */
final class PersonName
{
    public const MOST = 100;

    /** As it is kept: composed (NFC), with single blanks; null if it is no name. */
    public static function of(string $typed): ?string
    {
        if (\strlen($typed) > 4 * self::MOST || 1 !== preg_match('//u', $typed)) {
            return null;
        }
        $name = \Normalizer::normalize(trim((string) preg_replace('/[\p{Z}\s]+/u', ' ', $typed)), \Normalizer::FORM_C);
        if (!\is_string($name) || '' === $name || mb_strlen($name) > self::MOST) {
            return null;
        }

        // No control or format characters, so that no name looks like another; no line can be forged with one.
        return 1 === preg_match('/^[\p{L}\p{N}][\p{L}\p{M}\p{N} .,\'’@_+()-]*$/Du', $name) ? $name : null;
    }
}
