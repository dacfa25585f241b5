<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/**
 * Reads the records of a WARC file one after the other (ISO 28500:2017, clause 4), in constant memory. Behind a
 * damaged record reading goes on at the next place where one begins.
 */
final class Reader
{
    private const MAX_HEADER = 262_144;
    private const SCAN_STEP = 65_536;

    /** @var list<Finding> */
    private array $findings = [];

    private function __construct(private readonly string $path, private Input $input)
    {
    }

    /**
     * @throws WarcError
     */
    public static function open(string $path): self
    {
        return new self($path, Input::open($path));
    }

    /**
     * The record at an offset that {@see Record::$offset} once gave.
     *
     * @throws WarcError
     */
    public static function at(string $path, int $offset): Record
    {
        $reader = self::open($path);
        $reader->input->seek($offset);

        return $reader->next(false) ?? throw new WarcError(FindingCode::Truncated, $offset, 'There is no record; the file ends before');
    }

    /**
     * @return \Generator<int, Record>
     */
    public function records(): \Generator
    {
        while (true) {
            $record = null;
            try {
                $record = $this->next(true);
                if (null === $record) {
                    return;
                }
                yield $record;
                $record->finish();
                $this->separator($record);
            } catch (WarcError $e) {
                $this->findings[] = new Finding($e->finding, $e->offset, $e->getMessage());
                if (!$this->recover($e->offset)) {
                    return;
                }
            }
        }
    }

    /**
     * What was wrong so far; complete when {@see records()} has ended.
     *
     * @return list<Finding>
     */
    public function findings(): array
    {
        return $this->findings;
    }

    /** How far reading has come, in bytes of the file. */
    public function offset(): int
    {
        return $this->input->offset();
    }

    public function size(): int
    {
        return $this->input->size();
    }

    private function next(bool $lenient): ?Record
    {
        while (\in_array($this->input->peek(), ["\r", "\n"], true)) {
            $this->input->read(1);
        }
        if ('' === $this->input->peek()) {
            return null;
        }
        $offset = $this->input->offset();
        $header = '';
        do {
            $line = $this->input->line(self::MAX_HEADER);
            $header .= $line;
            if ('' === $line || !str_ends_with($line, "\n")) {
                $first = str_starts_with($header, 'WARC/') ? FindingCode::Truncated : FindingCode::NotWarc;
                throw new WarcError($first, $offset, 'A record should begin here, but its header does not end');
            }
            if (\strlen($header) > self::MAX_HEADER) {
                throw new WarcError(FindingCode::BadHeader, $offset, 'The record’s header is longer than 256 KiB');
            }
        } while ('' !== rtrim($line, "\r\n"));

        return new Record($this->input, $offset, RecordHeader::parse($header, $offset), $lenient);
    }

    private function separator(Record $record): void
    {
        $lines = '';
        while (\strlen($lines) < 4 && \in_array($this->input->peek(), ["\r", "\n"], true)) {
            $lines .= $this->input->read(1);
        }
        if ("\r\n\r\n" !== $lines) {
            $this->findings[] = new Finding(FindingCode::MissingSeparator, $record->offset, 'The record is not followed by two line ends.');
        }
    }

    /** Goes to the next place behind that offset where a record begins; false if there is none. */
    private function recover(int $offset): bool
    {
        $mark = $this->input->gzip ? "\x1f\x8b\x08" : 'WARC/1.';
        $handle = fopen($this->path, 'r');
        if (false === $handle) {
            return false;
        }
        try {
            $at = $offset + 1;
            fseek($handle, $at);
            $window = '';
            while ('' !== ($piece = (string) fread($handle, self::SCAN_STEP))) {
                $window .= $piece;
                $from = 0;
                while (false !== ($hit = strpos($window, $mark, $from))) {
                    if ($this->startsRecord($at + $hit)) {
                        $this->input->seek($at + $hit);

                        return true;
                    }
                    $from = $hit + 1;
                }
                $keep = \strlen($mark) - 1;
                $at += \strlen($window) - $keep;
                $window = substr($window, -$keep);
            }
        } finally {
            fclose($handle);
        }

        return false;
    }

    private function startsRecord(int $offset): bool
    {
        try {
            $probe = Input::open($this->path);
            if ($probe->gzip !== $this->input->gzip) {
                return false;
            }
            $probe->seek($offset);

            return str_starts_with($probe->line(64), 'WARC/');
        } catch (WarcError) {
            return false;
        }
    }
}
