<?php

declare(strict_types=1);

namespace Ypomna\Core;

/**
 * Word lists that stand beside the code in files of their own: `[section]` in a line, then a word a line, each a piece of a regular
 * expression. Words are alternatives. A line that ends in `(?:` begins a group of them, one that begins with `)` ends it; what stands
 * before and behind on these lines belongs to the expression. Lines that begin with `#` are comments.
 */
final class WordFile
{
    /** @var array<string, array<string, string>> what was read already, by path */
    private static array $read = [];

    /**
     * @return array<string, string> expression by section, without delimiters, in the order of the file
     *
     * @throws \RuntimeException if the file is missing or a group is not closed: it is part of the program
     */
    public static function read(string $path): array
    {
        return self::$read[$path] ??= self::parse((string) file_get_contents($path));
    }

    /**
     * @return array<string, string>
     *
     * @throws \RuntimeException
     */
    public static function parse(string $text): array
    {
        $sections = [];
        $name = null;
        $depth = 0;
        foreach (explode("\n", $text) as $number => $line) {
            $line = ltrim(rtrim($line, "\r"));
            if ('' === $line || '#' === $line[0]) {
                continue;
            }
            if (0 === $depth && 1 === preg_match('/^\[([a-z.-]+)\]$/D', $line, $m)) {
                $name = $m[1];
                $sections[$name] = '';
                continue;
            }
            if (null === $name || (')' === $line[0] && 0 === $depth)) {
                throw new \RuntimeException(\sprintf('Line %d of a word list stands outside of what it belongs to.', $number + 1));
            }
            $so = $sections[$name];
            $ends = ')' === $line[0];
            $depth += (str_ends_with($line, '(?:') ? 1 : 0) - ($ends ? 1 : 0);
            $sections[$name] = $so.($ends || '' === $so || str_ends_with($so, '(?:') ? '' : '|').$line;
        }
        if (0 !== $depth) {
            throw new \RuntimeException('A group of a word list is not closed.');
        }

        return $sections;
    }
}
