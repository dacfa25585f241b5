<?php

declare(strict_types=1);

namespace Ypomna\Core\Address;

/**
 * Host names as browsers read them: WHATWG URL Standard, section 3.5 (host parsing).
 */
final class Host
{
    private const FORBIDDEN = '/[\x00-\x20#%\/:<>?@\[\\\\\]^|\x7f]/';

    /** What browsers overlook: empty and long labels, long names, hyphens at the edges and at the third and fourth place. */
    private const LENIENT = \IDNA_ERROR_EMPTY_LABEL | \IDNA_ERROR_LABEL_TOO_LONG | \IDNA_ERROR_DOMAIN_NAME_TOO_LONG
        | \IDNA_ERROR_LEADING_HYPHEN | \IDNA_ERROR_TRAILING_HYPHEN | \IDNA_ERROR_HYPHEN_3_4;

    /**
     * @return string ASCII form in lower case: a name in punycode, dotted IPv4, or IPv6 in brackets
     *
     * @throws InvalidAddress
     */
    public static function parse(string $given): string
    {
        if (str_starts_with($given, '[')) {
            $packed = str_ends_with($given, ']') ? @inet_pton(substr($given, 1, -1)) : false;
            if (false === $packed || 16 !== \strlen($packed)) {
                throw InvalidAddress::because($given, 'the IPv6 address in brackets cannot be read');
            }

            return '['.self::ipv6($packed).']';
        }
        $name = rawurldecode($given);
        if ('' === $name) {
            throw InvalidAddress::because($given, 'the host name is missing');
        }
        $ascii = self::toAscii($name);
        if (1 === preg_match(self::FORBIDDEN, $ascii)) {
            throw InvalidAddress::because($given, 'the host name holds a character that none may hold');
        }

        return self::looksNumeric($ascii) ? self::ipv4($ascii) : $ascii;
    }

    /** Groups in hexadecimal throughout (URL Standard, “IPv6 serializer”), where inet_ntop writes some ends as IPv4. */
    private static function ipv6(string $packed): string
    {
        $text = (string) inet_ntop($packed);
        if (!str_contains($text, '.')) {
            return $text;
        }

        return substr($text, 0, (int) strrpos($text, ':') + 1).dechex(\ord($packed[12]) << 8 | \ord($packed[13])).':'
            .dechex(\ord($packed[14]) << 8 | \ord($packed[15]));
    }

    private static function toAscii(string $name): string
    {
        if (1 === preg_match('/^[\x00-\x7f]+$/D', $name) && 1 !== preg_match('/(?:^|\.)xn--/i', $name)) {
            return strtolower($name);
        }
        $ascii = mb_check_encoding($name, 'UTF-8') && \strlen($name) < 1024 ? self::mapped($name) : null;
        if (null === $ascii || '' === $ascii) {
            throw InvalidAddress::because($name, 'the international host name cannot be written in ASCII');
        }

        return $ascii;
    }

    /** UTS #46, as the URL Standard asks for it: joiners and directions are checked, hyphens and lengths are not. */
    private static function mapped(string $name): ?string
    {
        $info = [];
        $flags = \IDNA_NONTRANSITIONAL_TO_ASCII | \IDNA_CHECK_BIDI | \IDNA_CHECK_CONTEXTJ;
        $ascii = @idn_to_ascii($name, $flags, \INTL_IDNA_VARIANT_UTS46, $info);
        if (false !== $ascii) {
            return $ascii;
        }
        if (\is_array($info) && isset($info['errors'], $info['result']) && \is_int($info['errors']) && \is_string($info['result'])) {
            return 0 === ($info['errors'] & ~self::LENIENT) ? $info['result'] : null;
        }
        // The library writes no name that is longer than the system of names allows: each label on its own, then.
        $labels = preg_split('/[.\x{3002}\x{FF0E}\x{FF61}]/u', $name);
        if (false === $labels || \count($labels) < 2) {
            return null;
        }
        $mapped = array_map(static fn (string $label): ?string => '' === $label ? '' : self::mapped($label), $labels);

        return \in_array(null, $mapped, true) ? null : implode('.', $mapped);
    }

    /** The URL Standard's “ends in a number” check. */
    private static function looksNumeric(string $host): bool
    {
        $labels = explode('.', str_ends_with($host, '.') ? substr($host, 0, -1) : $host);
        $last = end($labels);

        return 1 === preg_match('/^(?:\d+|0x[0-9a-f]*)$/', $last);
    }

    /** Decimal, octal and hexadecimal parts, one to four of them, as browsers take them. */
    private static function ipv4(string $host): string
    {
        $parts = explode('.', str_ends_with($host, '.') ? substr($host, 0, -1) : $host);
        if (\count($parts) > 4) {
            throw InvalidAddress::because($host, 'an IPv4 address has at most four parts');
        }
        $numbers = array_map(static fn (string $part): int => self::ipv4Part($part, $host), $parts);
        $last = array_pop($numbers);
        if ($last >= 256 ** (4 - \count($numbers))) {
            throw InvalidAddress::because($host, 'a number of the IPv4 address is too large');
        }
        $value = $last;
        foreach ($numbers as $i => $number) {
            if ($number > 255) {
                throw InvalidAddress::because($host, 'a number of the IPv4 address is too large');
            }
            $value += $number * 256 ** (3 - $i);
        }

        return (string) long2ip((int) $value);
    }

    private static function ipv4Part(string $part, string $host): int
    {
        [$digits, $radix] = match (true) {
            str_starts_with($part, '0x') => [substr($part, 2), 16],
            \strlen($part) > 1 && str_starts_with($part, '0') => [substr($part, 1), 8],
            default => [$part, 10],
        };
        $valid = match ($radix) {
            16 => '/^[0-9a-f]*$/',
            8 => '/^[0-7]*$/',
            10 => '/^\d+$/',
        };
        if (1 !== preg_match($valid, $digits) || \strlen(ltrim($digits, '0')) > 14) {
            throw InvalidAddress::because($host, 'a part of the IPv4 address is not a number');
        }

        return '' === $digits ? 0 : \intval($digits, $radix);
    }
}
