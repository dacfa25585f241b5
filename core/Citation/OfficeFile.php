<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/** A document that is a ZIP file of parts. Only what is asked for is unpacked, up to a size. */
final readonly class OfficeFile
{
    private const MOST_PARTS = 20_000;
    /** Of all parts together that are read of a file, unpacked, in bytes. */
    private const LARGEST = 33_554_432;

    public function __construct(public string $path)
    {
    }

    /**
     * @param list<string> $names
     *
     * @return array<string, string> those that are there
     *
     * @throws UnreadableDraft
     */
    public function parts(array $names): array
    {
        $zip = $this->open($this->path);
        try {
            $parts = [];
            $left = self::LARGEST;
            foreach ($names as $name) {
                $facts = $zip->statName($name);
                if (false === $facts) {
                    continue;
                }
                if ($facts['size'] > $left) {
                    throw new UnreadableDraft(\sprintf(
                        'The parts of the document are larger than %d MB when they are unpacked (“%s” goes beyond).',
                        intdiv(self::LARGEST, 1_048_576),
                        $name,
                    ));
                }
                $stream = $zip->getStream($name);
                // What the list of parts says of its size is not believed.
                $bytes = false === $stream ? false : stream_get_contents($stream, $left + 1);
                if (false === $bytes || \strlen($bytes) > $left) {
                    throw new UnreadableDraft(\sprintf('The part “%s” cannot be unpacked.', $name));
                }
                $left -= \strlen($bytes);
                $parts[$name] = $bytes;
            }

            return $parts;
        } finally {
            $zip->close();
        }
    }

    /**
     * Writes the same file with other contents of some parts; the others stay as they are, packed.
     *
     * @param array<string, string> $parts
     *
     * @throws UnreadableDraft
     */
    public function with(array $parts, string $path): void
    {
        if (!copy($this->path, $path)) {
            throw new \RuntimeException(\sprintf('The file “%s” cannot be written.', $path));
        }
        $zip = $this->open($path);
        foreach ($parts as $name => $bytes) {
            $zip->addFromString($name, $bytes);
        }
        if (!$zip->close()) {
            throw new \RuntimeException(\sprintf('The file “%s” cannot be written.', $path));
        }
    }

    /** @throws UnreadableDraft */
    private function open(string $path): \ZipArchive
    {
        $zip = new \ZipArchive();
        if (true !== $zip->open($path, 0)) {
            throw new UnreadableDraft('The file cannot be unpacked: it is damaged, or no document of this kind.');
        }
        if ($zip->numFiles > self::MOST_PARTS) {
            $zip->close();
            throw new UnreadableDraft(\sprintf('The file has more than %d parts.', self::MOST_PARTS));
        }

        return $zip;
    }
}
