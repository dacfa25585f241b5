<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

use Ypomna\Core\Matches;

/** Addresses that are simply written in a text. */
final class BareAddresses
{
    private const PATTERN = '~(?<![\p{L}\p{N}@/])(?:https?://|www\.(?=[\p{L}\p{N}]))[^\s<>"\'`|'
        .'\\\\^{}\x{3000}-\x{3003}\x{3008}-\x{3011}\x{FF08}\x{FF09}\x{FF0C}\x{FF1B}“”„«»]+~iu';
    private const MOST = 6_000;
    private const LONGEST = 4_096;

    /**
     * @param string $text UTF-8
     *
     * @return list<array{string, int}> the address as it is written, and where it begins, in bytes
     */
    public static function in(string $text): array
    {
        $found = [];
        if (!mb_check_encoding($text, 'UTF-8')) {
            return [];
        }
        foreach (Matches::of(self::PATTERN, $text, self::MOST) as $at => [$written]) {
            if (\strlen($written) > self::LONGEST) {
                continue;
            }
            $written = self::trimmed($written);
            if (1 === preg_match('~^(?:https?://|www\.)[^/.?#][^/?#]*~i', $written)) {
                $found[] = [$written, $at];
            }
        }

        return $found;
    }

    /** Without what ends a sentence, a bracket or an emphasis around it. */
    public static function trimmed(string $written): string
    {
        do {
            $before = $written;
            $written = (string) preg_replace('/[.,;:!?*_~’‘…]+$/u', '', $written);
            foreach ([['(', ')'], ['[', ']']] as [$open, $close]) {
                if (str_ends_with($written, $close) && substr_count($written, $open) < substr_count($written, $close)) {
                    $written = substr($written, 0, -1);
                }
            }
            // A bracket that opens inside and closes behind what follows ends it as well.
            if (1 === preg_match('/^(.*?\))[.,;].*$/', $written, $m) && substr_count($m[1], '(') < substr_count($m[1], ')')) {
                $written = substr($m[1], 0, -1);
            }
        } while ($before !== $written);

        return $written;
    }
}
