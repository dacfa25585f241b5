<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/**
 * Reads the records of a WARC file one after the other (ISO 28500:2009 and 2017, clause 4), in constant memory. Behind a
 * damaged record, or what is none, reading goes on at the next place where one begins.
 */
final class WarcReader
{
    private const MAX_HEADER = 262_144;
    private const USUAL_HEADER = 16_384;
    private const SCAN_STEP = 65_536;
    /** More are not kept: a file of nothing but damage must not fill the memory. */
    private const MAX_FINDINGS = 10_000;

    /** @var list<WarcFinding> */
    private array $findings = [];
    private int $records = 0;
    private int $inMember = 0;
    /** Whether the whole file is one gzip member: places are counted in what it holds. */
    private bool $oneMember = false;
    private bool $warned = false;
    /** Where a member ended whose successor had to be looked at. */
    private ?int $endedAt = null;
    /** Bytes that may still be read again in search of records inside records whose length is wrong. */
    private int $patience;
    private readonly Search $search;

    private function __construct(private readonly string $path, private readonly Input $input)
    {
        $this->search = new Search($path);
        $this->patience = 4 * $input->size() + 1_000_000;
    }

    /**
     * @param int $from where reading begins: a place that {@see beginning()} or {@see Record::$offset} gave
     *
     * @throws WarcError if the file cannot be opened
     */
    public static function open(string $path, int $from = 0): self
    {
        $reader = new self($path, Input::open($path));
        if ($from > 0) {
            $reader->input->seek($from);

            return $reader;
        }
        // A gzip file whose beginning is damaged looks like a plain one.
        if (!$reader->input->gzip && null === $reader->search->record(0, min(self::SCAN_STEP, $reader->size()))
            && null !== $reader->search->member(0)) {
            return new self($path, Input::open($path, true));
        }

        return $reader;
    }

    /**
     * The record at an offset that {@see Record::$offset} once gave.
     *
     * @throws WarcError
     */
    public static function at(string $path, int $offset): Record
    {
        $reader = self::open($path);
        $input = $reader->input;
        try {
            if ($input->gzip) {
                $input->seek($offset);
                $input->next() || throw new WarcError(WarcFindingCode::Truncated, $offset, 'The file ends before');
            } else {
                $input->next();
                $input->seek($offset);
            }
        } catch (WarcError) {
            // No member begins there: the file is one member, and the offset counts what it holds.
            $reader->oneMember = true;
            $input->seek(0);
            $input->next();
            for ($left = $offset; $left > 0; $left -= \strlen($piece)) {
                $piece = $input->read(min($left, self::SCAN_STEP));
                if ('' === $piece) {
                    break;
                }
            }
        }
        $reader->skipEmptyLines();
        if ('' === $input->peek(1)) {
            throw $input->fault ?? new WarcError(WarcFindingCode::Truncated, $offset, 'There is no record; the file ends before');
        }
        $header = $reader->header($offset);

        return new Record($reader, $input, $offset, $header[0], $header[1], $header[0]->contentLength() ?? \PHP_INT_MAX, [], false);
    }

    /** Where in a gzip file the next member begins, from that byte on, that holds a record; null if none is found. */
    public static function beginning(string $path, int $from): ?int
    {
        return (new Search($path))->member($from);
    }

    /**
     * Length of the gzip member at that place, if it holds one sound record and nothing else; else null.
     *
     * @throws WarcError if the file cannot be opened
     */
    public static function soundMember(string $path, int $offset): ?int
    {
        $reader = self::open($path, $offset);
        foreach ($reader->input->gzip ? $reader->records() : [] as $record) {
            $record->finish();
            $wrong = array_filter($record->findings(), static fn (WarcFinding $finding): bool => $finding->code->isDamage());

            return $record->offset === $offset && [] === $wrong && '' === $reader->input->peek(1) ? $record->length() : null;
        }

        return null;
    }

    /**
     * @return \Generator<int, Record>
     */
    public function records(): \Generator
    {
        $begun = false;
        while (true) {
            if ('' === $this->input->peek(1)) {
                $this->noteFault();
                if (!$this->nextMember()) {
                    break;
                }
                $begun = true;
            }
            $this->skipEmptyLines();
            if ('' === $this->input->peek(1)) {
                continue;
            }
            $record = $this->record();
            if (null === $record) {
                continue;
            }
            ++$this->records;
            yield $record;
            $record->finish();
            foreach ($record->findings() as $finding) {
                $this->add($finding);
            }
        }
        $told = array_filter($this->findings, static fn (WarcFinding $finding): bool => WarcFindingCode::Garbage !== $finding->code);
        if (0 === $this->records && [] === $told) {
            $this->findings = [WarcFinding::at(
                WarcFindingCode::NotWarc,
                0,
                $begun || [] !== $this->findings
                    ? 'This is not a WARC file: no record begins in it'
                    : 'This is not a WARC file: it is empty',
            )];
        }
    }

    /**
     * What was wrong so far; complete when {@see records()} has ended.
     *
     * @return list<WarcFinding>
     */
    public function findings(): array
    {
        return $this->findings;
    }

    private function add(WarcFinding $finding): void
    {
        if (\count($this->findings) < self::MAX_FINDINGS) {
            $this->findings[] = $finding;
        }
    }

    /** How far reading has come, in bytes of the file. */
    public function offset(): int
    {
        return $this->input->progress();
    }

    public function size(): int
    {
        return $this->input->size();
    }

    /**
     * @internal whether a block goes on in the next gzip member, which does not begin a record of its own
     */
    public function spansOn(): bool
    {
        if (!$this->input->gzip) {
            return false;
        }
        $this->endedAt = $this->input->memberEnd();
        try {
            if (!$this->input->next()) {
                $this->endedAt = null;

                return false;
            }
        } catch (WarcError) {
            $this->endedAt = null;

            return false;
        }
        if (str_starts_with($this->input->peek(5), 'WARC/')) {
            $this->inMember = 0;

            return false;
        }
        $this->endedAt = null;

        return true;
    }

    /**
     * @internal reads what parts a record from the next one, and finds out whether its length was right
     *
     * @return int where it ends
     */
    public function conclude(Record $record): int
    {
        $damage = $record->damage();
        if (null !== $this->endedAt) {
            $end = $this->endedAt;
            $this->endedAt = null;
            $record->note(WarcFindingCode::BadLength, 'The record is shorter than its Content-Length says: its gzip member ends before');

            return $end;
        }
        if (null !== $damage) {
            $record->note(
                $damage->finding,
                WarcFindingCode::Truncated === $damage->finding
                    ? 'The file ends before the record does'
                    : 'The record’s gzip member is damaged: it cannot be unpacked to its end, or its check sum does not hold',
            );

            return $this->input->gzip ? $this->leaveMember() : $this->input->position();
        }
        $separator = $this->separator();
        $end = $this->input->position();
        $this->skipEmptyLines();
        $next = $this->input->peek(5);
        if (null !== $this->input->fault) {
            $record->note(
                $this->input->fault->finding,
                WarcFindingCode::Truncated === $this->input->fault->finding
                    ? 'The file ends in the middle of the record’s gzip member'
                    : 'The check sum of the record’s gzip member does not hold',
            );

            return $this->leaveMember();
        }
        $this->noteOneMember($next);
        if ('' !== $next && 'WARC/' !== $next && "\r\n\r\n" !== $separator) {
            return $this->wrongLength($record);
        }
        if ($this->input->gzip && !$this->oneMember && '' !== $next && 'WARC/' !== $next) {
            $this->passGarbage('Behind the record something else stands in its gzip member');
        }
        $cutOff = [] !== array_filter(
            $record->findings(), static fn (WarcFinding $finding): bool => WarcFindingCode::Truncated === $finding->code,
        );
        if ("\r\n\r\n" !== $separator && !$cutOff && null !== $record->header->contentLength()) {
            $record->note(WarcFindingCode::MissingSeparator, 'The record is not followed by two line ends');
        }

        // Further empty lines belong to nobody.
        return $this->input->gzip && !$this->oneMember ? $this->input->memberEnd() : $end;
    }

    /** Where the record that was read last ends, when nothing is wrong with it. */
    private function here(): int
    {
        return $this->input->gzip && !$this->oneMember ? $this->input->memberEnd() : $this->input->position();
    }

    private function noteOneMember(string $next): void
    {
        if (!$this->input->gzip || '' === $next) {
            return;
        }
        $this->oneMember = $this->oneMember
            || (0 === $this->input->memberStart() && 1 === $this->inMember && str_starts_with($next, 'WARC/'));
        if (!$this->warned && str_starts_with($next, 'WARC/')) {
            $this->warned = true;
            $this->add(WarcFinding::at(
                WarcFindingCode::WholeFileGzip,
                $this->input->memberStart(),
                'One gzip member holds several records; each should be a member of its own',
            ));
        }
    }

    /** Takes in a record's header; null if none can be read here, which is noted. */
    private function record(): ?Record
    {
        if (!str_starts_with($this->input->peek(5), 'WARC/')) {
            $this->passGarbage('A record should begin here, but something else stands there');

            return null;
        }
        $offset = $this->input->gzip && !$this->oneMember ? $this->input->memberStart() : $this->input->position();
        try {
            [$header, $bytes] = $this->header($offset);
        } catch (WarcError $e) {
            if (WarcFindingCode::Garbage === $e->finding) {
                $this->passGarbage('A record should begin here, but its first line is none');

                return null;
            }
            $this->add(WarcFinding::at($e->finding, $offset, $e->what));
            if (null === $this->input->fault) {
                $this->toNextBeginning();
            } else {
                $this->leaveMember();
            }

            return null;
        }
        ++$this->inMember;
        $findings = HeaderCheck::of($bytes, $header, $offset);

        return new Record($this, $this->input, $offset, $header, $bytes, $this->blockLength($header, $offset, $findings), $findings, true);
    }

    /**
     * @param list<WarcFinding> $findings
     */
    private function blockLength(RecordHeader $header, int $offset, array &$findings): int
    {
        $length = $header->contentLength();
        $remaining = $this->input->remaining();
        if (null === $remaining) {
            return $length ?? \PHP_INT_MAX;
        }
        if (null !== $length && $length <= $remaining) {
            return $length;
        }
        // The length is missing or leads beyond the file: the block ends where the next record begins.
        $start = $this->input->position();
        $next = $this->search->record($start, $this->input->size());
        if (null !== $length) {
            $findings[] = null === $next
                ? WarcFinding::at(
                    WarcFindingCode::Truncated, $offset, \sprintf('The file ends %d bytes before the record does', $length - $remaining),
                )
                : WarcFinding::at(
                    WarcFindingCode::BadLength,
                    $offset,
                    'The record’s Content-Length leads beyond the file, but another record begins before',
                );
        }
        $end = $next ?? $this->input->size();
        if (null === $length || null !== $next) {
            $tail = $this->bytes(max($start, $end - 4), $end);
            $end -= \strlen($tail) - \strlen(rtrim($tail, "\r\n"));
        }

        return $end - $start;
    }

    /**
     * @return array{RecordHeader, string} and its bytes
     *
     * @throws WarcError
     */
    private function header(int $offset): array
    {
        $bytes = $this->input->paragraph(self::USUAL_HEADER);
        if ('' !== $bytes) {
            return [RecordHeader::parse($bytes, $offset), $bytes];
        }
        do {
            $line = $this->input->line(self::MAX_HEADER);
            $bytes .= $line;
            if (!str_ends_with($line, "\n")) {
                if (\strlen($bytes) >= self::MAX_HEADER) {
                    break;
                }
                throw $this->input->fault
                    ?? new WarcError(WarcFindingCode::Truncated, $offset, 'A record begins here, but its header does not end');
            }
        } while ('' !== rtrim($line, "\r\n") && \strlen($bytes) < self::MAX_HEADER);
        if ('' !== rtrim($line, "\r\n")) {
            throw new WarcError(WarcFindingCode::BadHeader, $offset, 'The record’s header is longer than 256 KiB');
        }

        return [RecordHeader::parse($bytes, $offset), $bytes];
    }

    /** The record's block is longer, or shorter, than it says. Finds the next record. */
    private function wrongLength(Record $record): int
    {
        $record->note(
            WarcFindingCode::BadLength,
            'The record’s block is not as long as its Content-Length says: behind it stands neither an empty line nor another record',
        );
        $position = $this->input->position();
        if (!$this->input->gzip && $this->patience > 0) {
            $start = $record->offset + 5;
            $this->patience -= $position - $start;
            $inside = $this->search->record($start, $position);
            if (null !== $inside) {
                $this->input->seek($inside);

                return $inside;
            }
        }
        $this->toNextBeginning();
        $fault = $this->input->fault;
        if (null !== $fault) {
            $record->note($fault->finding, 'The record’s gzip member is cut off or damaged');

            return $this->leaveMember();
        }

        return $this->here();
    }

    private function nextMember(): bool
    {
        while (true) {
            try {
                $this->inMember = 0;

                return $this->input->next();
            } catch (WarcError $e) {
                $this->add(WarcFinding::at($e->finding, $e->offset, $e->what));
                $next = $this->search->member($e->offset + 1);
                $this->input->seek($next ?? $this->input->size());
            }
        }
    }

    private function noteFault(): void
    {
        $fault = $this->input->fault;
        if (null === $fault) {
            return;
        }
        $this->add(WarcFinding::at($fault->finding, $fault->offset, $fault->what));
        $this->leaveMember();
    }

    /**
     * Goes on behind a member that cannot be unpacked to its end.
     *
     * @return int where the next one begins, or the file ends
     */
    private function leaveMember(): int
    {
        // One that was cut off takes what follows for its own, and then seems to end with the file.
        $next = $this->search->member($this->input->memberStart() + 1);
        $this->input->seek($next ?? $this->input->size());
        $this->inMember = 0;

        return $next ?? $this->input->size();
    }

    /** Notes what stands where a record should, and passes over it. */
    private function passGarbage(string $what): void
    {
        $offset = $this->input->gzip && !$this->oneMember ? $this->input->memberStart() : $this->input->position();
        $this->add(WarcFinding::at(WarcFindingCode::Garbage, $offset, $what));
        $this->input->read(1);
        $this->toNextBeginning();
    }

    /** Goes on to the next place in the member where a record begins, or to its end. */
    private function toNextBeginning(): void
    {
        while ('' !== ($window = $this->input->peek(self::SCAN_STEP))) {
            if (1 === preg_match(Search::BEGINNING, $window, $m, \PREG_OFFSET_CAPTURE)) {
                $this->skip($m[0][1]);

                return;
            }
            $keep = \strlen($window) < self::SCAN_STEP ? 0 : Search::BEGINNING_BYTES;
            $this->skip(\strlen($window) - $keep);
        }
    }

    private function skip(int $bytes): void
    {
        while ($bytes > 0 && '' !== ($piece = $this->input->read($bytes))) {
            $bytes -= \strlen($piece);
        }
    }

    private function skipEmptyLines(): void
    {
        while (\in_array($this->input->peek(1), ["\r", "\n"], true)) {
            $this->input->read(strspn($this->input->peek(512), "\r\n"));
        }
    }

    /** Takes in up to two line ends. */
    private function separator(): string
    {
        preg_match('/^(?:\r?\n){0,2}/', $this->input->peek(4), $found);

        return $this->input->read(\strlen($found[0] ?? ''));
    }

    private function bytes(int $from, int $to): string
    {
        return $to <= $from ? '' : (string) file_get_contents($this->path, false, null, $from, max(0, $to - $from));
    }
}
