<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

/** When a text stands: over all captures that have it, and over those that everybody sees. */
final readonly class Standing
{
    /** The year of the first bit. */
    private const FROM = 1990;
    private const YEARS = 62;

    /**
     * @param bool $isOpen whether everybody sees it
     * @param int $first Unix time; of what is open, where something is
     * @param int $years a bit a year; of what is open
     * @param int $allYears of all
     */
    public function __construct(public bool $isOpen, public int $first, public int $last, public int $years, public int $allYears)
    {
    }

    /**
     * @param list<array{at: \DateTimeImmutable, limited: bool}> $captures
     */
    public static function of(array $captures): self
    {
        $open = array_filter($captures, static fn (array $one): bool => !$one['limited']);
        $moments = array_map(
            static fn (array $one): int => $one['at']->getTimestamp(), [] === $open ? $captures : array_values($open),
        );

        return new self(
            [] !== $open, [] === $moments ? 0 : min($moments), [] === $moments ? 0 : max($moments), self::mask(array_values($open)),
            self::mask($captures),
        );
    }

    public static function bit(int $year): int
    {
        return $year < self::FROM || $year >= self::FROM + self::YEARS ? 0 : 1 << $year - self::FROM;
    }

    /** @return list<int> */
    public static function years(int $mask): array
    {
        $years = [];
        for ($n = 0; $n < self::YEARS; ++$n) {
            if (0 !== ($mask & 1 << $n)) {
                $years[] = self::FROM + $n;
            }
        }

        return $years;
    }

    /** @param list<array{at: \DateTimeImmutable, limited: bool}> $captures */
    private static function mask(array $captures): int
    {
        $mask = 0;
        foreach ($captures as $one) {
            $mask |= self::bit((int) $one['at']->format('Y'));
        }

        return $mask;
    }
}
