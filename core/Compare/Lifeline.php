<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

/** The span of captures in which a passage stood, with its wordings. Captures are told by their number, from 0. */
final class Lifeline
{
    /**
     * @param list<array{int, string}> $wordings from which capture on it read so, rising
     * @param list<array{int, int}> $spans first and last capture in which it stood, without a gap between; rising
     */
    public function __construct(public readonly string $kind, public string $heading, public array $wordings, public array $spans)
    {
    }

    public function first(): int
    {
        return $this->spans[0][0];
    }

    public function last(): int
    {
        return $this->spans[\count($this->spans) - 1][1];
    }

    /** What it read at that capture; null where it did not stand. */
    public function at(int $capture): ?string
    {
        foreach ($this->spans as [$from, $to]) {
            if ($capture >= $from && $capture <= $to) {
                $text = $this->wordings[0][1];
                foreach ($this->wordings as [$since, $wording]) {
                    $text = $since <= $capture ? $wording : $text;
                }

                return $text;
            }
        }

        return null;
    }

    public function says(string $word): bool
    {
        foreach ($this->wordings as [, $text]) {
            if ('' === $word || false !== mb_stripos($text, $word)) {
                return true;
            }
        }

        return false;
    }
}
