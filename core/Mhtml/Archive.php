<?php

declare(strict_types=1);

namespace Ypomna\Core\Mhtml;

/** An MHTML file that was read: its parts, which page each belongs to, and what is wrong with it. */
final readonly class Archive
{
    private const STEP = 65_536;

    /**
     * @param list<Entity> $parts leaves, in the order of the file
     * @param list<MhtmlFinding> $findings about the file and its parts
     * @param bool $isMhtml whether it is one by RFC 2557: with a multipart/related, or a single page with its address; else a mail message
     */
    public function __construct(
        private string $path,
        public ?Entity $message,
        public array $parts,
        public array $findings,
        public int $pages,
        public bool $isMhtml,
    ) {
    }

    /**
     * @return list<Entity>
     */
    public function partsOf(int $page): array
    {
        return array_values(array_filter($this->parts, static fn (Entity $part): bool => $part->page === $page));
    }

    public function rootOf(int $page): ?Entity
    {
        foreach ($this->parts as $part) {
            if ($part->page === $page && $part->root) {
                return $part;
            }
        }

        return null;
    }

    /**
     * The body of a part, its transfer-encoding decoded.
     *
     * @return \Generator<int, string>
     */
    public function body(Entity $part): \Generator
    {
        $handle = fopen($this->path, 'r');
        if (false === $handle) {
            throw new \RuntimeException(\sprintf('The file “%s” cannot be opened.', $this->path));
        }
        try {
            fseek($handle, $part->bodyAt);
            $decoder = new TransferDecoder($part->headers->encoding);
            for ($left = $part->bodyEnd - $part->bodyAt; $left > 0; $left -= \strlen($piece)) {
                $piece = (string) fread($handle, min($left, self::STEP));
                if ('' === $piece) {
                    break;
                }
                yield $decoder->push($piece);
            }
            yield $decoder->end();
        } finally {
            fclose($handle);
        }
    }
}
