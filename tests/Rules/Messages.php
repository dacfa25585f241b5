<?php

declare(strict_types=1);

namespace Ypomna\Tests\Rules;

/**
 * The texts of the interface as code and templates ask for them. A message is asked for by its whole key, or as the word of a closed
 * set by the filter `word` with the family's name; a key that is put together cannot be found, and is a fault.
 */
final class Messages
{
    private const KEY = '[a-z]+(?:\.[a-z0-9_-]+)+';

    /** @var array<string, string> where each key is asked for, the first place */
    public array $asked = [];
    /** @var array<string, string> where the words of each family are asked for */
    public array $families = [];
    /** @var list<string> faults, each with its place */
    public array $faults = [];

    /** @param string $text of a template */
    public function template(string $place, string $text): void
    {
        foreach (self::found('~\|\s*(?:trans|sentence)\b~', $text) as [, $at]) {
            $before = rtrim(substr($text, 0, $at));
            if (1 === preg_match("~(\\S{0,3})\\s*'((?:[^'\\\\]|\\\\.)*)'$~", $before, $m)) {
                str_ends_with($m[1], '~') ? $this->fault($place, $text, $at, 'put together') : $this->key($m[2], $place, $text, $at);
            } elseif (1 !== preg_match('~\bwhy$~', $before)) {
                $this->fault($place, $text, $at, 'asked for by something else than a key');
            }
        }
        foreach (self::found("~\\|\\s*word\\(('(?:[^']*)')?~", $text) as [$match, $at]) {
            1 === preg_match("~'([a-z]+(?:\\.[a-z]+)*)'~", $match, $m)
                ? $this->families[$m[1]] ??= $place
                : $this->fault($place, $text, $at, 'a family without a name');
        }
        foreach (self::found("~'(".self::KEY.")'\\s*\\|\\s*word~", $text) as [, $at]) {
            $this->fault($place, $text, $at, 'a whole key where a value belongs');
        }
    }

    /** @param string $text of a class */
    public function code(string $place, string $text): void
    {
        foreach (self::found('~(?:->trans|new TranslatableMessage|\bt)\(\s*([^,)]*)~', $text) as [$match, $at]) {
            $argument = trim((string) preg_replace('~^[^(]*\(\s*~', '', $match));
            if (1 === preg_match("~^'([^']*)'$~", $argument, $m)) {
                $this->key($m[1], $place, $text, $at);
            } elseif (str_contains($argument, "'") || str_contains($argument, '.')) {
                $this->fault($place, $text, $at, 'put together');
            }
        }
        $thrown = '(?:throw new \w+|new (?:Explanation|self|\w+Failed)|parent::__construct)';
        foreach (self::found("~{$thrown}\\(\\s*'(".self::KEY.")'~", $text) as [$match, $at]) {
            $this->key((string) preg_replace("~^.*'([^']*)'$~s", '$1', $match), $place, $text, $at);
        }
        foreach (self::found("~->word\\([^;]*?,\\s*'([a-z.]+)'~", $text) as [$match]) {
            $this->families[(string) preg_replace("~^.*'([a-z.]+)'$~s", '$1', $match)] ??= $place;
        }
    }

    /**
     * What is missing or not asked for.
     *
     * @param list<string> $known keys of the catalogue
     *
     * @return list<string>
     */
    public function compare(array $known): array
    {
        $faults = $this->faults;
        foreach ($this->asked as $key => $place) {
            if (!\in_array($key, $known, true)) {
                $faults[] = "{$place}: “{$key}” has no text.";
            }
        }
        foreach ($known as $key) {
            if (1 !== preg_match('~^'.self::KEY.'$~', $key)) {
                $faults[] = "“{$key}” is no key of our style.";
            } elseif (!isset($this->asked[$key]) && !$this->isWord($key)) {
                $faults[] = "“{$key}” is asked for by nobody.";
            }
        }

        return $faults;
    }

    /** Values may hold dots, as the kinds of lines of the ledger do. */
    private function isWord(string $key): bool
    {
        foreach (array_keys($this->families) as $family) {
            if (str_starts_with($key, $family.'.')) {
                return true;
            }
        }

        return false;
    }

    private function key(string $key, string $place, string $text, int $at): void
    {
        1 === preg_match('~^'.self::KEY.'$~', $key)
            ? $this->asked[$key] ??= $place
            : $this->fault($place, $text, $at, "“{$key}” is no key");
    }

    private function fault(string $place, string $text, int $at, string $what): void
    {
        $this->faults[] = \sprintf('%s:%d: %s', $place, 1 + substr_count($text, "\n", 0, $at), $what);
    }

    /** @return list<array{string, int}> what matched, and where */
    private static function found(string $pattern, string $text): array
    {
        preg_match_all($pattern, $text, $matches, \PREG_OFFSET_CAPTURE);

        return array_map(static fn (array $one): array => [(string) $one[0], (int) $one[1]], $matches[0]);
    }
}
