<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

/** When words stood on a page: as far as its captures tell, and whoever asks sees them. */
final readonly class Stood
{
    /**
     * @param list<array{text: int, at: \DateTimeImmutable, code: string}> $captures all of an address, the oldest first
     * @param list<int> $texts in which it stands
     *
     * @return self|null null if it stands in none of them
     */
    public static function of(array $captures, array $texts): ?self
    {
        $texts = array_fill_keys($texts, true);
        $first = $last = $absent = null;
        $count = 0;
        foreach ($captures as $capture) {
            if (isset($texts[$capture['text']])) {
                $first ??= $capture['at'];
                [$last, $absent] = [$capture['at'], null];
                ++$count;
            } elseif (null !== $last) {
                $absent ??= $capture['at'];
            }
        }

        return null === $first || null === $last ? null : new self($first, $last, $count, \count($captures), $absent);
    }

    /**
     * @param int $captures in how many captures
     * @param int $of how many there are
     * @param \DateTimeImmutable|null $absentSince of the first capture without them after the last with them; null if there is none
     */
    public function __construct(
        public \DateTimeImmutable $first,
        public \DateTimeImmutable $last,
        public int $captures,
        public int $of,
        public ?\DateTimeImmutable $absentSince = null,
    ) {
    }
}
