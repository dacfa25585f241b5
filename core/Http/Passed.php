<?php

declare(strict_types=1);

namespace Ypomna\Core\Http;

/**
 * Counts what passes by.
 *
 * @internal
 */
final class Passed
{
    public int $bytes = 0;

    /**
     * @param iterable<string> $pieces
     *
     * @return \Generator<int, string>
     */
    public function by(iterable $pieces): \Generator
    {
        foreach ($pieces as $piece) {
            $this->bytes += \strlen($piece);
            yield $piece;
        }
    }
}
