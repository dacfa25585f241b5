<?php

declare(strict_types=1);

namespace Ypomna\Core\Fixity;

/**
 * The append-only list of what happened to the holdings, a line an event. Each line begins with the SHA-256 of the rest of
 * it, and the rest names the hash of the line before: so no line can be altered, taken out or put in without every
 * later one showing it. Anyone can check a line with `cut -c66- | sha256sum`.
 */
final readonly class Ledger
{
    public const FIRST = '0000000000000000000000000000000000000000000000000000000000000000';

    private const MAX_LINE = 1_048_576;

    public function __construct(private string $path)
    {
    }

    /**
     * Adds a line and brings it to the disk before it returns. Several processes may do so at once.
     *
     * @param array<string, mixed> $details
     *
     * @throws \RuntimeException if the line cannot be written; then nothing of it is left in the file
     */
    public function append(string $kind, string $subject, array $details, \DateTimeImmutable $at): LedgerLine
    {
        $file = @fopen($this->path, 'c+');
        if (false === $file || !flock($file, \LOCK_EX)) {
            throw new \RuntimeException(\sprintf('The ledger “%s” cannot be opened for writing.', $this->path));
        }
        try {
            [$last, $end, $torn] = self::tail($file);
            if ('' !== $torn) {
                // A line that a crash cut short was never acknowledged; what there is of it is kept in the next one.
                $details['torn'] = bin2hex($torn);
                ftruncate($file, $end);
            }
            $line = LedgerLine::make(($last->seq ?? 0) + 1, $at, $kind, $subject, $details, $last->hash ?? self::FIRST);
            fseek($file, $end);
            if (@fwrite($file, $line->text."\n") !== \strlen($line->text) + 1 || !fflush($file) || !fsync($file)) {
                ftruncate($file, $end);
                throw new \RuntimeException('The disk took no more while the ledger was being written.');
            }

            return $line;
        } finally {
            flock($file, \LOCK_UN);
            fclose($file);
        }
    }

    /** Of the file, in bytes; 0 if it is not there. */
    public function size(): int
    {
        clearstatcache(true, $this->path);

        return is_file($this->path) ? (int) filesize($this->path) : 0;
    }

    /**
     * Puts a file of these lines in the place of this one, which stays beside it under another name. Nothing is done unless they
     * are a chain from its beginning on.
     *
     * @param iterable<string> $texts of lines, in their order
     *
     * @return int how many they were
     *
     * @throws \RuntimeException
     */
    public function writeAnew(iterable $texts): int
    {
        $new = $this->path.'.new';
        $file = @fopen($new, 'w');
        $lock = @fopen($this->path, 'c');
        if (false === $file || false === $lock || !flock($lock, \LOCK_EX)) {
            throw new \RuntimeException(\sprintf('“%s” cannot be written to.', $new));
        }
        try {
            $count = 0;
            foreach ($texts as $text) {
                ++$count;
                if (@fwrite($file, $text."\n") !== \strlen($text) + 1) {
                    throw new \RuntimeException('The disk took no more while the ledger was being written.');
                }
            }
            if (!fflush($file) || !fsync($file)) {
                throw new \RuntimeException('The disk took no more while the ledger was being written.');
            }
            if (0 === $count || [] !== (new self($new))->check()) {
                throw new \RuntimeException('These lines are no whole ledger.');
            }
            $aside = $this->path.'.before-'.hash_file('sha256', $this->path);
            if (($this->size() > 0 && !is_file($aside) && !link($this->path, $aside)) || !rename($new, $this->path)) {
                throw new \RuntimeException('The ledger could not be put in its place.');
            }

            return $count;
        } finally {
            fclose($file);
            fclose($lock);
            @unlink($new);
        }
    }

    /**
     * @param int $from byte where a line begins
     *
     * @return \Generator<int, string> the lines' texts by the byte behind each of them
     */
    public function lines(int $from = 0): \Generator
    {
        $file = is_file($this->path) ? fopen($this->path, 'r') : false;
        if (false === $file) {
            return;
        }
        try {
            fseek($file, $from);
            while (false !== ($text = fgets($file, self::MAX_LINE))) {
                $from += \strlen($text);
                if (str_ends_with($text, "\n")) {
                    yield $from => substr($text, 0, -1);
                }
            }
        } finally {
            fclose($file);
        }
    }

    /**
     * Goes through the whole chain.
     *
     * @param \Closure(int, ?LedgerLine): void|null $each told of every line: its number, and the line if it can be read
     *
     * @return list<LedgerFinding> empty if every line is as it was written
     */
    public function check(?\Closure $each = null): array
    {
        $findings = [];
        $number = 0;
        $previous = self::FIRST;
        $expected = 1;
        foreach ($this->lines() as $text) {
            ++$number;
            $line = LedgerLine::parse($text);
            $each?->__invoke($number, $line);
            if (null === $line) {
                $findings[] = new LedgerFinding($number, 'The line cannot be read; it was altered.');
                $previous = substr($text, 0, 64);
                ++$expected;
                continue;
            }
            if (!$line->holds()) {
                $findings[] = new LedgerFinding($number, 'The line was altered: its hash is not that of its text.');
            } elseif ($line->previous !== $previous || $line->seq !== $expected) {
                $findings[] = new LedgerFinding(
                    $number,
                    \sprintf(
                        'The line does not follow the one before it (it is number %d, %d is due): a line was taken out, put in or'
                            .' replaced here.',
                        $line->seq,
                        $expected,
                    ),
                );
            }
            $previous = $line->hash;
            $expected = $line->seq + 1;
        }

        return $findings;
    }

    /**
     * @param resource $file
     *
     * @return array{LedgerLine|null, int<0, max>, string} the last whole line, the byte behind it, and what stands beyond
     */
    private static function tail($file): array
    {
        fseek($file, 0, \SEEK_END);
        $size = (int) ftell($file);
        $from = max(0, $size - 2 * self::MAX_LINE);
        fseek($file, $from);
        $bytes = (string) stream_get_contents($file);
        $lf = strrpos($bytes, "\n");
        if (false === $lf) {
            return [null, 0, $bytes];
        }
        $whole = substr($bytes, 0, $lf);
        $start = strrpos($whole, "\n");
        $line = LedgerLine::parse(false === $start ? $whole : substr($whole, $start + 1));
        if (null === $line) {
            throw new \RuntimeException(
                'The last line of the ledger cannot be read; it was altered. Nothing is added to it until that has been looked into'
                    .' (bin/ypomna verify).',
            );
        }

        return [$line, max(0, $from + $lf + 1), substr($bytes, $lf + 1)];
    }
}
