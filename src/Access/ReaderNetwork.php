<?php

declare(strict_types=1);

namespace Ypomna\App\Access;

/** From which network somebody asks, for counting how often they do. */
final class ReaderNetwork
{
    /** An address of version 6 belongs to a network of one house (RFC 6177); one of version 4 stands for itself. */
    public static function of(?string $ip): string
    {
        $bytes = (string) @inet_pton((string) $ip);

        return bin2hex(16 === \strlen($bytes) ? substr($bytes, 0, 8) : $bytes);
    }
}
