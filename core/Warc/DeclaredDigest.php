<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/**
 * A digest as a record gives it: `algorithm:value`, the value in hex or base32, any case (ISO 28500:2017, clauses
 * 5.8 and 5.9; RFC 4648).
 */
final readonly class DeclaredDigest
{
    private const ALGORITHMS = ['md5' => 16, 'sha1' => 20, 'sha256' => 32, 'sha384' => 48, 'sha512' => 64];

    /**
     * @param string $algorithm as PHP's hash extension calls it
     * @param string|null $bytes null if the value is of no valid length or alphabet: it can never hold
     */
    private function __construct(public string $algorithm, public ?string $bytes)
    {
    }

    /** @return self|null null if the algorithm is not known */
    public static function parse(string $text): ?self
    {
        [$name, $value] = explode(':', trim($text), 2) + ['', ''];
        $algorithm = str_replace('-', '', strtolower($name));
        $length = self::ALGORITHMS[$algorithm] ?? null;
        if (null === $length) {
            return null;
        }
        $value = trim($value);
        $bytes = match (true) {
            \strlen($value) === 2 * $length && ctype_xdigit($value) => (string) hex2bin($value),
            default => self::base32($value),
        };

        return new self($algorithm, null !== $bytes && \strlen($bytes) === $length ? $bytes : null);
    }

    /** @param string $raw the digest that was computed, as bytes */
    public function holds(string $raw): bool
    {
        return null !== $this->bytes && hash_equals($this->bytes, $raw);
    }

    private static function base32(string $text): ?string
    {
        $text = rtrim(strtoupper($text), '=');
        if (1 !== preg_match('/^[A-Z2-7]+$/', $text)) {
            return null;
        }
        $bits = 0;
        $held = 0;
        $out = '';
        foreach (str_split($text) as $letter) {
            $held = ($held << 5) | (int) strpos('ABCDEFGHIJKLMNOPQRSTUVWXYZ234567', $letter);
            $bits += 5;
            if ($bits >= 8) {
                $bits -= 8;
                $out .= \chr(($held >> $bits) & 0xFF);
                $held &= (1 << $bits) - 1;
            }
        }

        return $out;
    }
}
