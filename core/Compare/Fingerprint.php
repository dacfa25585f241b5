<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\Page\Passage;

/**
 * A short sign of a text by which texts that share much are found without reading them (MinHash; Broder 1997): of all runs of
 * four words, the smallest hash by each of 32 hash functions. Two texts agree in as large a share of these as of their runs.
 */
final readonly class Fingerprint
{
    public const HASHES = 32;
    /** Hashes that together make a band: texts that agree in a whole band are looked at. */
    public const BAND = 2;
    private const RUN = 4;
    private const MOST_WORDS = 20_000;
    private const FEWEST_RUNS = 8;

    /** @param list<int> $hashes of 32 bits */
    private function __construct(public array $hashes)
    {
    }

    /**
     * @param list<Passage> $passages
     *
     * @return self|null null of a text too short to say anything
     */
    public static function of(array $passages): ?self
    {
        $text = mb_strtolower(implode("\n", array_map(static fn (Passage $passage): string => $passage->key, $passages)));
        preg_match_all(
            '/[\p{Han}\p{Hiragana}\p{Katakana}\p{Thai}]|(?:(?![\p{Han}\p{Hiragana}\p{Katakana}\p{Thai}])[\p{L}\p{M}\p{N}])+/u', $text, $m,
        );

        return self::ofWords($m[0]);
    }

    /**
     * @param list<string> $words in their order, folded
     *
     * @return self|null null of a text too short to say anything
     */
    public static function ofWords(array $words): ?self
    {
        $words = \array_slice($words, 0, self::MOST_WORDS);
        $least = array_fill(0, self::HASHES, 0xFFFFFFFF);
        $runs = [];
        for ($i = 0, $count = \count($words) - self::RUN; $i <= $count; ++$i) {
            $runs[$words[$i].' '.$words[$i + 1].' '.$words[$i + 2].' '.$words[$i + 3]] = true;
        }
        if (\count($runs) < self::FEWEST_RUNS) {
            return null;
        }
        foreach (array_keys($runs) as $run) {
            // Four numbers of 32 bits out of one hash; the functions are sums of multiples of two of them (Kirsch and Mitzenmacher 2006).
            /** @var array{a: int, b: int} $numbers */
            $numbers = unpack('Va/Vb', hash('xxh64', (string) $run, true));
            $hash = $numbers['a'];
            $step = $numbers['b'] | 1;
            for ($k = 0; $k < self::HASHES; ++$k) {
                $hash = ($hash + $step + $k * $k) & 0xFFFFFFFF;
                if ($hash < $least[$k]) {
                    $least[$k] = $hash;
                }
            }
        }

        return new self(array_values($least));
    }

    public static function unpack(string $bytes): self
    {
        /** @var array<int, int> $hashes */
        $hashes = (array) unpack('V*', $bytes);

        return new self(array_values($hashes));
    }

    public function pack(): string
    {
        return pack('V*', ...$this->hashes);
    }

    /**
     * @return list<int> a number of 32 bits for each band, equal for texts that agree in it
     */
    public function bands(): array
    {
        return array_map(
            static fn (array $band, int $n): int => crc32($n.' '.implode(' ', $band)),
            array_chunk($this->hashes, self::BAND),
            array_keys(array_chunk($this->hashes, self::BAND)),
        );
    }

    /** How much of the runs of words both have, 0 to 1, estimated. */
    public function likeness(self $other): float
    {
        $same = 0;
        foreach ($this->hashes as $k => $hash) {
            $same += $hash === $other->hashes[$k] ? 1 : 0;
        }

        return $same / self::HASHES;
    }
}
