<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/** The candidates of a picture that `srcset` names (HTML Standard, section 4.8.4.2.1, "parse a srcset attribute"). */
final class Candidates
{
    private const BLANKS = "\t\n\f\r ";
    /** Descriptors up to the comma that ends them; one in parentheses does not. */
    private const DESCRIPTORS = '~\G(?:[^,(]++|\([^)]*+\)?)*+~';

    /** @return \Generator<int, string> addresses as they are written, by the byte at which each begins */
    public static function of(string $srcset): \Generator
    {
        for ($at = 0; isset($srcset[$at]);) {
            $at += strspn($srcset, self::BLANKS.',', $at);
            $length = strcspn($srcset, self::BLANKS, $at);
            if (0 === $length) {
                return;
            }
            $written = substr($srcset, $at, $length);
            $address = rtrim($written, ',');
            yield $at => $address;
            $at += $length;
            if ($address === $written && 1 === preg_match(self::DESCRIPTORS, $srcset, $m, 0, $at)) {
                $at += \strlen($m[0]);
            }
        }
    }
}
