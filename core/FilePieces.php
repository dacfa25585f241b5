<?php

declare(strict_types=1);

namespace Ypomna\Core;

/** A file piece by piece. */
final class FilePieces
{
    private const STEP = 65_536;

    /**
     * @return \Generator<int, string>
     *
     * @throws \RuntimeException if it cannot be read
     */
    public static function ofFile(string $path): \Generator
    {
        $handle = @fopen($path, 'r');
        if (false === $handle) {
            throw new \RuntimeException(\sprintf('The file “%s” cannot be read.', $path));
        }
        try {
            while ('' !== ($piece = (string) fread($handle, self::STEP))) {
                yield $piece;
            }
        } finally {
            fclose($handle);
        }
    }
}
