<?php

declare(strict_types=1);

namespace Ypomna\Core\Crawl;

/**
 * What the pages of one kind of address have shown so far. When page after page brings next to no text that the others had not,
 * and leads nowhere new, the kind is a trap: an empty calendar, the same page under ever new names.
 */
final class Novelty
{
    /** So many pages in a row have to bring nothing. */
    public const PATIENCE = 24;
    /** Text below this is none: a date, a number of a page; in bytes. */
    private const LITTLE = 120;
    private const MOST = 4_096;

    /** @var array<int, true> */
    private array $seen = [];

    /**
     * @param string $state what `state()` gave; empty at the beginning
     * @param int    $idle  how many pages in a row brought nothing
     */
    public function __construct(string $state = '', public int $idle = 0)
    {
        foreach ('' === $state ? [] : (array) unpack('V*', $state) as $hash) {
            $this->seen[is_numeric($hash) ? (int) $hash : 0] = true;
        }
    }

    /**
     * @param list<string> $pieces  texts of a page
     * @param bool         $leadsOn whether it names an address of another kind, or a part, that was not known
     *
     * @return bool whether the kind is exhausted
     */
    public function add(array $pieces, bool $leadsOn): bool
    {
        $fresh = 0;
        $first = [] === $this->seen;
        foreach ($pieces as $piece) {
            $hash = crc32($piece);
            if (!isset($this->seen[$hash])) {
                $fresh += \strlen($piece);
                if (\count($this->seen) < self::MOST) {
                    $this->seen[$hash] = true;
                }
            }
        }
        $this->idle = $first || $leadsOn || $fresh >= self::LITTLE ? 0 : $this->idle + 1;

        return $this->idle >= self::PATIENCE;
    }

    public function state(): string
    {
        return pack('V*', ...array_keys($this->seen));
    }
}
