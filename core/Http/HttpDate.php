<?php

declare(strict_types=1);

namespace Ypomna\Core\Http;

/** Dates in message heads (RFC 9110, section 5.6.7). */
final class HttpDate
{
    /** The form that is written today, and the two of old that readers must take. */
    private const FORMS = ['!D, d M Y H:i:s \G\M\T', '!l, d-M-y H:i:s \G\M\T', '!D M j H:i:s Y'];

    /** @return \DateTimeImmutable|null in UTC; null if it is no such date */
    public static function parse(string $text): ?\DateTimeImmutable
    {
        $text = trim((string) preg_replace('/\s+/', ' ', $text));
        foreach (self::FORMS as $form) {
            $moment = \DateTimeImmutable::createFromFormat($form, $text, new \DateTimeZone('UTC'));
            $errors = \DateTimeImmutable::getLastErrors();
            if (false !== $moment && (false === $errors || 0 === $errors['warning_count'])) {
                return $moment;
            }
        }

        return null;
    }

    public static function write(\DateTimeImmutable $moment): string
    {
        return $moment->setTimezone(new \DateTimeZone('UTC'))->format('D, d M Y H:i:s \G\M\T');
    }
}
