<?php

declare(strict_types=1);

namespace Ypomna\Core\Http\Encoding;

/** The indexes of the Encoding Standard (sections 5 and 10), read once from the files beside it. */
final class Tables
{
    /** @var array<string, list<string>>|null */
    private static ?array $single = null;

    /**
     * The characters of the bytes 0x80 to 0xFF of a single-byte encoding.
     *
     * @return list<string> 128 of them; where a byte stands for nothing, U+FFFD
     */
    public static function singleByte(string $encoding): array
    {
        if (null === self::$single) {
            self::$single = [];
            foreach (self::json('single-byte') as $name => $quarters) {
                self::$single[$name] = mb_str_split(implode('', array_filter((array) $quarters, is_string(...))), 1, 'UTF-8');
            }
        }

        return self::$single[$encoding] ?? throw new \OutOfBoundsException('There is no single-byte encoding '.$encoding.'.');
    }

    /** @return array<int, string> a character a pointer */
    public static function index(string $name): array
    {
        $index = [];
        foreach (explode("\n", rtrim(self::file($name.'.txt'), "\n")) as $line) {
            [$pointer, $characters] = explode("\t", $line, 2) + ['', ''];
            $at = (int) $pointer;
            foreach (mb_str_split($characters, 1, 'UTF-8') as $character) {
                $index[$at++] = $character;
            }
        }

        return $index;
    }

    /** @return list<array{int, int|null}> of the four-byte characters: a first pointer and its code point, null where there is none */
    public static function ranges(): array
    {
        $ranges = [];
        foreach (self::json('gb18030-ranges') as $range) {
            [$pointer, $point] = (array) $range + [null, null];
            $ranges[] = [\is_int($pointer) ? $pointer : 0, \is_int($point) ? $point : null];
        }

        return $ranges;
    }

    /** @return array<string, mixed> */
    private static function json(string $name): array
    {
        $read = json_decode(self::file($name.'.json'), true, 8, \JSON_THROW_ON_ERROR);

        return \is_array($read) ? array_combine(array_map(strval(...), array_keys($read)), array_values($read)) : [];
    }

    private static function file(string $name): string
    {
        $bytes = file_get_contents(__DIR__.'/tables/'.$name);

        return false === $bytes ? throw new \RuntimeException('The table of characters '.$name.' cannot be read.') : $bytes;
    }
}
