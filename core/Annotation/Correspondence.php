<?php

declare(strict_types=1);

namespace Ypomna\Core\Annotation;

/**
 * Which words of one text are which of another, and by that where a stretch of the first stands in the second.
 *
 * @internal
 */
final class Correspondence
{
    /** @var array<int, int> of old tokens, the new one */
    private array $to = [];
    /** @var array<int, int> of new tokens, the old one */
    private array $back = [];

    /**
     * @param list<array{int, int}> $pairs rising on both sides
     * @param bool $isWhole whether both begin and end at the same place
     */
    public function __construct(
        private readonly Tokens $old,
        private readonly Tokens $new,
        array $pairs,
        private readonly bool $isWhole,
    ) {
        foreach ($pairs as [$i, $j]) {
            $this->to[$i] = $j;
            $this->back[$j] = $i;
        }
    }

    /**
     * Where a stretch of the old text stands in the new one.
     *
     * @return array{int, int}|null bytes of the folded text, equal where nothing is left; null if that cannot be told
     */
    public function map(int $from, int $to): ?array
    {
        $start = $this->start($from);
        $end = $this->end($to);
        if (null === $start || null === $end) {
            return null;
        }
        if ($end <= $start) {
            return [$start, $start];
        }

        return $this->trimmed($start, $end, $from, $to);
    }

    private function start(int $byte): ?int
    {
        $i = $this->tokenAfter($byte);
        if (isset($this->to[$i])) {
            return $this->new->starts[$this->to[$i]] + max(0, $byte - $this->old->starts[$i]);
        }
        [$before, $after] = $this->around($i);
        if (-1 === $before && !$this->isWhole) {
            return null;
        }
        if ($i === $before + 1 || $this->isTakenOut($before, $after)) {
            return $this->edge($before, true);
        }
        $same = $this->sameCount($before, $after);

        return null === $same ? null : $this->new->starts[$same + $i];
    }

    private function end(int $byte): ?int
    {
        $i = $this->tokenBefore($byte);
        if (isset($this->to[$i])) {
            $j = $this->to[$i];

            return $byte >= $this->old->ends[$i] ? $this->new->ends[$j] : $this->new->starts[$j] + $byte - $this->old->starts[$i];
        }
        [$before, $after] = $this->around($i);
        if ($this->old->count() === $after && !$this->isWhole) {
            return null;
        }
        if ($i === $after - 1 || $this->isTakenOut($before, $after)) {
            return $this->edge($after, false);
        }
        $same = $this->sameCount($before, $after);

        return null === $same ? null : $this->new->ends[$same + $i];
    }

    /** Where what replaced a run begins, behind a token that stayed, or ends, before one. */
    private function edge(int $stayed, bool $isStart): int
    {
        if ($isStart) {
            $j = $stayed < 0 ? -1 : $this->to[$stayed];

            return $this->new->starts[$j + 1] ?? $this->new->ends[$j] ?? 0;
        }
        $j = $this->to[$stayed] ?? $this->new->count();

        return $this->new->ends[$j - 1] ?? $this->new->starts[$j] ?? 0;
    }

    /** Whether nothing stands in the stead of a run. */
    private function isTakenOut(int $before, int $after): bool
    {
        return isset($this->to[$before], $this->to[$after]) && $this->to[$before] + 1 === $this->to[$after];
    }

    /** As many words as there were in a run are these words, one by one; the distance between their numbers, else null. */
    private function sameCount(int $before, int $after): ?int
    {
        $from = $before < 0 ? -1 : $this->to[$before];
        $to = $this->to[$after] ?? $this->new->count();
        $known = ($before >= 0 && isset($this->to[$after])) || $this->isWhole;

        return $known && $to - $from === $after - $before ? $from - $before : null;
    }

    /** @return array{int, int} the nearest tokens that stayed; -1 and the count where there is none */
    private function around(int $i): array
    {
        $before = $i - 1;
        while ($before >= 0 && !isset($this->to[$before])) {
            --$before;
        }
        $after = max(0, $i);
        while ($after < $this->old->count() && !isset($this->to[$after])) {
            ++$after;
        }

        return [$before, $after];
    }

    /** The first token that ends behind a place; of the old text unless another is given. */
    private function tokenAfter(int $byte, ?Tokens $tokens = null): int
    {
        $tokens ??= $this->old;
        $low = 0;
        $high = $tokens->count();
        while ($low < $high) {
            $middle = ($low + $high) >> 1;
            if ($tokens->ends[$middle] <= $byte) {
                $low = $middle + 1;
            } else {
                $high = $middle;
            }
        }

        return $low;
    }

    private function tokenBefore(int $byte, ?Tokens $tokens = null): int
    {
        $tokens ??= $this->old;
        $low = 0;
        $high = $tokens->count();
        while ($low < $high) {
            $middle = ($low + $high) >> 1;
            if ($tokens->starts[$middle] < $byte) {
                $low = $middle + 1;
            } else {
                $high = $middle;
            }
        }

        return $low - 1;
    }

    /**
     * Without signs at its ends that the old stretch has not.
     *
     * @return array{int, int}
     */
    private function trimmed(int $start, int $end, int $from, int $to): array
    {
        $isSign = static fn (string $token): bool => 1 !== preg_match('/[\p{L}\p{N}]/u', $token);
        $first = $this->tokenAfter($start, $this->new);
        $last = $this->tokenBefore($end, $this->new);
        if (!$isSign($this->old->texts[$this->tokenAfter($from)] ?? '')) {
            while ($first < $last && $isSign($this->new->texts[$first]) && !isset($this->back[$first])) {
                $start = $this->new->starts[++$first];
            }
        }
        if (!$isSign($this->old->texts[$this->tokenBefore($to)] ?? '')) {
            while ($last > $first && $isSign($this->new->texts[$last]) && !isset($this->back[$last])) {
                $end = $this->new->ends[--$last];
            }
        }

        return [$start, $end];
    }

    /** What of a stretch of the old text stayed, by weight; only what stands now between two places, if they are given. */
    public function stayed(int $from, int $to, int $first = 0, int $last = \PHP_INT_MAX): int
    {
        $weight = 0;
        foreach ($this->to as $i => $j) {
            if ($this->old->starts[$i] >= $from && $this->old->ends[$i] <= $to
                && $this->new->starts[$j] >= $first && $this->new->ends[$j] <= $last) {
                $weight += Tokens::weight($this->old->texts[$i]);
            }
        }

        return $weight;
    }

    public function weight(int $from, int $to): int
    {
        $weight = 0;
        foreach ($this->old->texts as $i => $token) {
            if ($this->old->starts[$i] >= $from && $this->old->ends[$i] <= $to) {
                $weight += Tokens::weight($token);
            }
        }

        return $weight;
    }

    /** Where the last token before a place of the old text that stayed ends now; null if none did. */
    public function lastStayedBefore(int $byte): ?int
    {
        for ($i = $this->tokenBefore($byte); $i >= 0; --$i) {
            if (isset($this->to[$i]) && $this->old->ends[$i] <= $byte) {
                return $this->new->ends[$this->to[$i]];
            }
        }

        return null;
    }

    public function firstStayedAfter(int $byte): ?int
    {
        for ($i = $this->tokenAfter($byte), $count = $this->old->count(); $i < $count; ++$i) {
            if (isset($this->to[$i]) && $this->old->starts[$i] >= $byte) {
                return $this->new->starts[$this->to[$i]];
            }
        }

        return null;
    }

    /** Whether the token right before a place of the old text stayed. */
    public function staysBefore(int $byte): bool
    {
        return isset($this->to[$this->tokenBefore($byte)]);
    }

    public function staysAfter(int $byte): bool
    {
        return isset($this->to[$this->tokenAfter($byte)]);
    }

    /** Whether something between two places of the new text is, in the old one, outside of a stretch. */
    public function isOutside(int $first, int $last, int $from, int $to): bool
    {
        foreach ($this->back as $j => $i) {
            if ($this->new->ends[$j] > $first && $this->new->starts[$j] < $last
                && ($this->old->ends[$i] <= $from || $this->old->starts[$i] >= $to)) {
                return true;
            }
        }

        return false;
    }
}
