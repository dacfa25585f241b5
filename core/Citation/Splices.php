<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/** Replacements in a text; everything else stays byte for byte. */
final class Splices
{
    /** @var list<array{int, int, string}> */
    private array $splices = [];

    public function add(int $at, int $length, string $text): void
    {
        $this->splices[] = [$at, $length, $text];
    }

    public function isEmpty(): bool
    {
        return [] === $this->splices;
    }

    /** What overlaps something before it is passed over. */
    public function on(string $source): string
    {
        $splices = $this->splices;
        usort($splices, static fn (array $a, array $b): int => [$a[0], $a[1]] <=> [$b[0], $b[1]]);
        $out = '';
        $at = 0;
        foreach ($splices as [$from, $length, $text]) {
            if ($from < $at || $from + $length > \strlen($source)) {
                continue;
            }
            $out .= substr($source, $at, $from - $at).$text;
            $at = $from + $length;
        }

        return $out.substr($source, $at);
    }

    /** Writes the source with the replacements in it. */
    public function write(string $source, string $path): void
    {
        $bytes = $this->on($source);
        if (@file_put_contents($path, $bytes) !== \strlen($bytes)) {
            throw new \RuntimeException(\sprintf('The file “%s” cannot be written.', $path));
        }
    }
}
