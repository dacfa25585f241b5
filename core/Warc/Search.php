<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/**
 * Looks for the next place in a file where a record, or a gzip member with one, begins.
 *
 * @internal
 */
final class Search
{
    /** A record begins so, and the next line is a field. */
    public const BEGINNING = '#WARC/\d{1,3}\.\d{1,3}[ \t]*\r?\n[!\#$%&\'*+.^_`|~0-9A-Za-z-]+[ \t]*:#';
    /** Bytes that the longest beginning takes, with some of its first field. */
    public const BEGINNING_BYTES = 128;

    private const SCAN_STEP = 65_536;

    /** Places that may still be probed for a gzip member. */
    private int $probes = 20_000;
    private ?Input $probe = null;

    public function __construct(private readonly string $path)
    {
    }

    /**
     * Where in a plain file the next record begins.
     *
     * @return int|null null if none does before that byte
     */
    public function record(int $from, int $to): ?int
    {
        $handle = fopen($this->path, 'r');
        if (false === $handle) {
            return null;
        }
        try {
            fseek($handle, $from);
            $window = '';
            for ($at = $from; $at < $to;) {
                $piece = (string) fread($handle, self::SCAN_STEP);
                $window .= $piece;
                if (1 === preg_match(self::BEGINNING, $window, $m, \PREG_OFFSET_CAPTURE)) {
                    return $at + $m[0][1] < $to ? $at + $m[0][1] : null;
                }
                if ('' === $piece) {
                    return null;
                }
                $keep = min(\strlen($window), self::BEGINNING_BYTES);
                $at += \strlen($window) - $keep;
                $window = substr($window, -$keep);
            }
        } finally {
            fclose($handle);
        }

        return null;
    }

    /** Where the next gzip member begins that holds a record; null if there is none, or too many places look like one. */
    public function member(int $from): ?int
    {
        $handle = fopen($this->path, 'r');
        if (false === $handle) {
            return null;
        }
        try {
            fseek($handle, $from);
            $window = '';
            $at = $from;
            do {
                $piece = (string) fread($handle, self::SCAN_STEP);
                $window .= $piece;
                for ($hit = strpos($window, "\x1f\x8b\x08"); false !== $hit; $hit = strpos($window, "\x1f\x8b\x08", $hit + 1)) {
                    if (--$this->probes < 0) {
                        return null;
                    }
                    if ($this->holdsRecord($at + $hit)) {
                        return $at + $hit;
                    }
                }
                $at += \strlen($window) - min(\strlen($window), 2);
                $window = substr($window, -2);
            } while ('' !== $piece);
        } finally {
            fclose($handle);
        }

        return null;
    }

    private function holdsRecord(int $offset): bool
    {
        try {
            $probe = $this->probe ??= Input::open($this->path, true);
            $probe->seek($offset);

            return $probe->next() && str_starts_with(ltrim($probe->peek(64), "\r\n"), 'WARC/');
        } catch (WarcError) {
            return false;
        }
    }
}
