<?php

declare(strict_types=1);

namespace Ypomna\Core;

/** Reads a block of LZ4 ("LZ4 Block Format Description", LZ4 project, 2015 and later), as browsers pack their sessions with it. */
final class Lz4Block
{
    /** Before a file of a session: eight bytes, then the length of what is packed, 32 bits, the lowest byte first. */
    private const MOZILLA = "mozLz40\0";

    /**
     * @param int $most bytes that may come of it
     *
     * @return string|null what is packed in a session's file; null if it is none, is damaged or becomes larger
     */
    public static function ofSession(string $file, int $most): ?string
    {
        if (!str_starts_with($file, self::MOZILLA) || \strlen($file) < 12) {
            return null;
        }
        /** @var array{1: int} $size */
        $size = unpack('V', $file, 8);
        $text = $size[1] > $most ? null : self::read($file, 12, $size[1]);

        return null !== $text && \strlen($text) === $size[1] ? $text : null;
    }

    /** @return string|null null if it is damaged, or more comes of it than is allowed */
    private static function read(string $block, int $at, int $most): ?string
    {
        $out = '';
        $end = \strlen($block);
        while ($at < $end) {
            $token = \ord($block[$at++]);
            $literals = self::length($block, $token >> 4, $at);
            if (null === $literals || $at + $literals > $end || \strlen($out) + $literals > $most) {
                return null;
            }
            $out .= substr($block, $at, $literals);
            $at += $literals;
            if ($at === $end) {
                // The last sequence has no match.
                return $out;
            }
            if ($at + 2 > $end) {
                return null;
            }
            $back = \ord($block[$at]) | \ord($block[$at + 1]) << 8;
            $at += 2;
            $match = self::length($block, $token & 15, $at);
            $from = \strlen($out) - $back;
            if (null === $match || 0 === $back || $from < 0 || \strlen($out) + $match + 4 > $most) {
                return null;
            }
            // What is copied may reach into what it makes: then it is repeated.
            $piece = substr($out, $from, $match + 4);
            $out .= \strlen($piece) < $match + 4
                ? substr(str_repeat($piece, intdiv($match + 4, \strlen($piece)) + 1), 0, $match + 4) : $piece;
        }

        return $out;
    }

    private static function length(string $block, int $length, int &$at): ?int
    {
        if (15 === $length) {
            do {
                if (!isset($block[$at]) || $length > 0x7FFFFFFF) {
                    return null;
                }
                $more = \ord($block[$at++]);
                $length += $more;
            } while (255 === $more);
        }

        return $length;
    }
}
