<?php

declare(strict_types=1);

namespace Ypomna\Core\Account;

/** Codes that a telephone and the server compute from a shared secret and the time (RFC 6238, over HOTP of RFC 4226). */
final class TimeBasedCode
{
    /** Bytes of a secret: as long as the digest (RFC 4226, clause 4, R6). */
    public const SECRET_BYTES = 20;
    /** Seconds for which a code holds (RFC 6238, clause 5.2). */
    public const PERIOD = 30;
    public const DIGITS = 6;

    /**
     * The code of a step of time (RFC 4226, clause 5.3).
     *
     * @param int $step seconds since 1970, divided by the period
     * @param 'sha1'|'sha256'|'sha512' $digest
     */
    public static function at(#[\SensitiveParameter] string $secret, int $step, int $digits = self::DIGITS, string $digest = 'sha1'): string
    {
        $hash = hash_hmac($digest, pack('J', $step), $secret, true);
        $offset = \ord($hash[-1]) & 15;
        $number = (\ord($hash[$offset]) & 127) << 24 | \ord($hash[$offset + 1]) << 16 | \ord($hash[$offset + 2]) << 8
            | \ord($hash[$offset + 3]);

        return str_pad((string) ($number % 10 ** $digits), $digits, '0', \STR_PAD_LEFT);
    }

    /**
     * The step to which a code belongs; null if it is wrong, or was used before. One step earlier and one later are taken too, for clocks
     * that differ and for whoever types slowly (RFC 6238, clause 6).
     *
     * @param int $now seconds since 1970
     * @param int|null $used the last step of which a code was taken: none holds twice (clause 5.2)
     */
    public static function step(#[\SensitiveParameter] string $secret, string $code, int $now, ?int $used): ?int
    {
        $code = (string) preg_replace('/[\s-]+/', '', $code);
        $present = intdiv($now, self::PERIOD);
        $found = null;
        foreach ([$present - 1, $present, $present + 1] as $step) {
            // All of them are computed, so that the time does not tell which it was.
            if (hash_equals(self::at($secret, $step), $code) && (null === $used || $step > $used)) {
                $found ??= $step;
            }
        }

        return $found;
    }

    /** What a telephone is given, as a picture of it or by hand. */
    public static function address(string $issuer, string $account, #[\SensitiveParameter] string $secret): string
    {
        return 'otpauth://totp/'.rawurlencode($issuer).':'.rawurlencode($account).'?secret='.Base32::encode($secret)
            .'&issuer='.rawurlencode($issuer).'&algorithm=SHA1&digits='.self::DIGITS.'&period='.self::PERIOD;
    }
}
