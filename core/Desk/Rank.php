<?php

declare(strict_types=1);

namespace Ypomna\Core\Desk;

/**
 * Keys that put siblings in an order which is made by hand, compared as bytes. A new one is found between any two, so nothing else
 * has to be numbered anew: a number of fixed width, and behind it a fraction where there is no number between.
 */
final class Rank
{
    /** Longer ones are a sign that the siblings should be spread out again. */
    public const LONGEST = 120;
    private const DIGITS = '0123456789abcdefghijklmnopqrstuvwxyz';
    private const WIDTH = 8;
    private const FIRST = 'i0000000';

    /**
     * @param string|null $before the key that the new one is to follow; null: it is to be the first
     * @param string|null $after the key that is to follow it; null: it is to be the last
     *
     * @throws \InvalidArgumentException if there is no place between them
     */
    public static function between(?string $before, ?string $after): string
    {
        if (null !== $before && null !== $after && $before >= $after) {
            throw new \InvalidArgumentException('There is no place between these two.');
        }
        if (null === $before && null === $after) {
            return self::FIRST;
        }
        if (null === $after) {
            return self::step((string) $before, 1);
        }
        if (null === $before) {
            return self::step($after, -1);
        }

        return self::middle($before, $after);
    }

    /** @return list<string> so many keys in order, each as short as can be */
    public static function spread(int $many): array
    {
        $keys = [];
        $key = null;
        for ($n = 0; $n < $many; ++$n) {
            $keys[] = $key = self::between($key, null);
        }

        return $keys;
    }

    private static function step(string $key, int $by): string
    {
        $head = str_pad(substr($key, 0, self::WIDTH), self::WIDTH, '0');
        for ($at = self::WIDTH - 1; $at >= 0; --$at) {
            $digit = (int) strpos(self::DIGITS, $head[$at]) + $by;
            $head[$at] = self::DIGITS[($digit + 36) % 36];
            if ($digit >= 0 && $digit < 36) {
                return $head;
            }
        }
        throw new \InvalidArgumentException('There is no place beside this one.');
    }

    /** A fraction between two, digit by digit. */
    private static function middle(string $before, string $after): string
    {
        $key = '';
        $isBound = true;
        for ($at = 0; true; ++$at) {
            $low = isset($before[$at]) ? (int) strpos(self::DIGITS, $before[$at]) : 0;
            $high = $isBound ? (isset($after[$at]) ? (int) strpos(self::DIGITS, $after[$at]) : 0) : 36;
            if ($high - $low > 1) {
                return $key.self::DIGITS[intdiv($low + $high, 2)];
            }
            $key .= self::DIGITS[$low];
            $isBound = $isBound && $low === $high;
            if ($at > 4 * self::LONGEST) {
                throw new \InvalidArgumentException('There is no place between these two.');
            }
        }
    }
}
