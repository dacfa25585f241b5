<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/**
 * Queries and answers of the domain name system on the wire: RFC 1035 section 4, AAAA by RFC 3596.
 */
final readonly class DnsMessage
{
    public const TYPES = ['A' => 1, 'CNAME' => 5, 'AAAA' => 28];
    public const NO_ERROR = 0;
    public const SERVER_FAILURE = 2;
    public const NO_SUCH_NAME = 3;

    /**
     * @param list<array{name: string, type: string, ttl: int, data: string}> $records of the answer section, those of known types
     */
    private function __construct(
        public int $id,
        public bool $isAnswer,
        public int $code,
        public string $name,
        public int $type,
        public array $records,
    ) {
    }

    /** @param int $id 0 to 65535 */
    public static function query(int $id, string $name, string $type): string
    {
        return pack('n6', $id, 0x0100, 1, 0, 0, 0).self::writeName($name).pack('n2', self::TYPES[$type], 1);
    }

    /**
     * @param list<string> $addresses those of the type that was asked for
     */
    public static function answer(self $query, int $code, array $addresses, int $ttl): string
    {
        $out = pack('n6', $query->id, 0x8180 | $code, 1, \count($addresses), 0, 0).self::writeName($query->name)
            .pack('n2', $query->type, 1);
        foreach ($addresses as $address) {
            $packed = (string) inet_pton($address);
            $out .= pack('n3Nn', 0xC00C, $query->type, 1, $ttl, \strlen($packed)).$packed;
        }

        return $out;
    }

    /** @return self|null null if the bytes are no message that can be understood */
    public static function parse(string $bytes): ?self
    {
        if (\strlen($bytes) < 12 || 1 !== self::short($bytes, 4)) {
            return null;
        }
        $at = 12;
        $name = self::readName($bytes, $at);
        if (null === $name || \strlen($bytes) < $at + 4) {
            return null;
        }
        $type = self::short($bytes, $at);
        $at += 4;
        $records = [];
        for ($i = 0; $i < min(self::short($bytes, 6), 200); ++$i) {
            $record = self::readRecord($bytes, $at);
            if (null === $record) {
                break;
            }
            if ('' !== $record['type']) {
                $records[] = $record;
            }
        }

        $flags = self::short($bytes, 2);

        return new self(self::short($bytes, 0), 0 !== ($flags & 0x8000), $flags & 0x000F, $name, $type, $records);
    }

    /**
     * @return array{name: string, type: string, ttl: int, data: string}|null type '' if it is not one that is of interest
     */
    private static function readRecord(string $bytes, int &$at): ?array
    {
        $name = self::readName($bytes, $at);
        if (null === $name || \strlen($bytes) < $at + 10) {
            return null;
        }
        $type = (string) array_search(self::short($bytes, $at), self::TYPES, true);
        $ttl = (self::short($bytes, $at + 4) << 16) | self::short($bytes, $at + 6);
        $length = self::short($bytes, $at + 8);
        $start = $at + 10;
        $at = $start + $length;
        if (\strlen($bytes) < $at) {
            return null;
        }
        $data = substr($bytes, $start, $length);
        $text = match ($type) {
            'A' => 4 === \strlen($data) ? inet_ntop($data) : false,
            'AAAA' => 16 === \strlen($data) ? inet_ntop($data) : false,
            'CNAME' => self::readName($bytes, $start) ?? false,
            default => false,
        };

        return ['name' => $name, 'type' => false === $text ? '' : $type, 'ttl' => $ttl, 'data' => (string) $text];
    }

    private static function short(string $bytes, int $at): int
    {
        return (\ord($bytes[$at]) << 8) | \ord($bytes[$at + 1]);
    }

    private static function writeName(string $name): string
    {
        $out = '';
        foreach (explode('.', trim($name, '.')) as $label) {
            $out .= \chr(min(63, \strlen($label))).substr($label, 0, 63);
        }

        return $out."\0";
    }

    /** Follows compression pointers (RFC 1035 section 4.1.4), each one backwards only, so that none can loop. */
    private static function readName(string $bytes, int &$at): ?string
    {
        $labels = [];
        $pos = $at;
        $limit = \strlen($bytes);
        $jumped = false;
        $total = 0;
        while ($pos < $limit) {
            $length = \ord($bytes[$pos]);
            if ($length >= 0xC0) {
                $target = $pos + 1 < \strlen($bytes) ? (($length & 0x3F) << 8) | \ord($bytes[$pos + 1]) : \PHP_INT_MAX;
                if (!$jumped) {
                    $at = $pos + 2;
                    $jumped = true;
                }
                if ($target >= $pos) {
                    return null;
                }
                $limit = $pos;
                $pos = $target;
                continue;
            }
            if (0 === $length) {
                if (!$jumped) {
                    $at = $pos + 1;
                }

                return strtolower(implode('.', $labels));
            }
            $label = substr($bytes, $pos + 1, $length);
            $total += $length + 1;
            if ($length > 63 || $total > 255 || \strlen($label) < $length) {
                return null;
            }
            $labels[] = $label;
            $pos += $length + 1;
        }

        return null;
    }
}
