<?php

declare(strict_types=1);

namespace Ypomna\Core\Account;

/**
 * What may be a password: length counts, kinds of characters do not (NIST SP 800-63B, clause 5.1.1.2). What is guessed first is refused.
 */
enum PasswordRule: string
{
    case TooShort = 'short';
    case TooLong = 'long';
    case Common = 'common';
    case LikeTheName = 'name';

    public const FEWEST = 8;
    public const MOST_BYTES = 1_000;
    /** What people take where nobody stops them. */
    private const COMMON = [
        'password', 'passwort', 'passphrase', 'qwertyui', 'qwerty', 'letmein', 'welcome', 'changeme', 'iloveyou', 'administrator', 'admin',
        'secret', 'dragon', 'football', 'baseball', 'sunshine', 'princess', 'superman', 'trustno', 'abcdefgh', 'abc', 'asdfghjk', 'ypomna',
    ];

    /** @return self|null what is wrong with it; null if it may be one */
    public static function broken(#[\SensitiveParameter] string $password, string $name): ?self
    {
        $plain = mb_strtolower($password);
        $core = (string) preg_replace('/[^a-z]+/', '', $plain);
        $own = (string) preg_replace('/[^\p{L}]+/u', '', mb_strtolower($name));

        return match (true) {
            mb_strlen($password) < self::FEWEST => self::TooShort,
            \strlen($password) > self::MOST_BYTES => self::TooLong,
            '' !== $own && preg_replace('/[^\p{L}]+/u', '', $plain) === $own => self::LikeTheName,
            \in_array($core, self::COMMON, true) && \strlen($plain) - \strlen($core) <= 4,
            '' === $core && self::isRun($plain) => self::Common,
            \count(array_unique(mb_str_split($plain))) < 3 => self::Common,
            default => null,
        };
    }

    /** Whether the figures only go up or down by one, as in 12345678. */
    private static function isRun(string $figures): bool
    {
        $steps = [];
        for ($i = 1; $i < \strlen($figures); ++$i) {
            $steps[(\ord($figures[$i]) - \ord($figures[$i - 1]) + 10) % 10] = true;
        }

        return 1 === \count($steps);
    }
}
