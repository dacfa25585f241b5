<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/**
 * The block of a record that is to be written: bytes at hand or a file, with its length and digest known beforehand,
 * since the header that gives them comes first.
 */
final readonly class Block
{
    private const STEP = 262_144;

    private function __construct(
        private ?string $bytes,
        private ?string $path,
        public int $length,
        /** Hex. */
        public string $sha256,
    ) {
    }

    public static function ofString(string $bytes): self
    {
        return new self($bytes, null, \strlen($bytes), hash('sha256', $bytes));
    }

    /**
     * @throws \RuntimeException if the file cannot be read
     */
    public static function ofFile(string $path): self
    {
        $handle = @fopen($path, 'r');
        if (false === $handle || !is_file($path)) {
            throw new \RuntimeException(\sprintf('The file “%s” cannot be read.', $path));
        }
        // Counted, not asked for: PHP remembers the size that a file of this name had before.
        $context = hash_init('sha256');
        $length = hash_update_stream($context, $handle);
        fclose($handle);

        return new self(null, $path, $length, hash_final($context));
    }

    /**
     * @return \Generator<int, string>
     */
    public function pieces(): \Generator
    {
        if (null !== $this->bytes) {
            yield $this->bytes;

            return;
        }
        $handle = fopen((string) $this->path, 'r');
        if (false === $handle) {
            throw new \RuntimeException(\sprintf('The file “%s” cannot be read.', (string) $this->path));
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
