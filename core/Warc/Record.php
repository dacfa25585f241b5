<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/**
 * A record as it is read: its header is there, its block passes by once. What is wrong with it and how long it is are
 * known when it has been {@see finish()}ed.
 */
final class Record
{
    private const STEP = 65_536;

    private bool $finished = false;
    /** @var list<WarcFinding> */
    private array $findings;
    private int $end = 0;
    private ?WarcError $damage = null;

    /**
     * @internal records come from a {@see WarcReader}
     *
     * @param int $left bytes of the block; PHP_INT_MAX: to the end of the member
     * @param list<WarcFinding> $findings about the header
     */
    public function __construct(
        private readonly WarcReader $reader,
        private readonly Input $input,
        /** Where the record, or its gzip member, begins in the file; in a file that is one member, where in what it holds. */
        public readonly int $offset,
        public readonly RecordHeader $header,
        /** The header as it stands, with the version line and the empty line at its end. */
        public readonly string $head,
        private int $left,
        array $findings,
        private readonly bool $lenient,
    ) {
        $this->findings = $findings;
    }

    /**
     * The block, in pieces of at most 64 KiB. What is not read is passed over when the next record is asked for.
     *
     * @return \Generator<int, string>
     *
     * @throws WarcError where the file ends or is damaged before the block does; while a file is read from record to record, the block only
     *     ends there, and the record says why
     */
    public function block(): \Generator
    {
        if (\PHP_INT_MAX === $this->left) {
            yield from $this->restOfMember();

            return;
        }
        while ($this->left > 0) {
            $piece = $this->input->read(min($this->left, self::STEP));
            if ('' === $piece) {
                if (null === $this->input->fault && $this->reader->spansOn()) {
                    continue;
                }
                $this->endsEarly();

                return;
            }
            $this->left -= \strlen($piece);
            yield $piece;
        }
    }

    /**
     * The block of a record that gives no length: what its member holds, without the empty lines at its end.
     *
     * @return \Generator<int, string>
     */
    private function restOfMember(): \Generator
    {
        $held = '';
        while ('' !== ($piece = $this->input->read(self::STEP))) {
            $held .= $piece;
            if (\strlen($held) > 4) {
                yield substr($held, 0, -4);
                $held = substr($held, -4);
            }
        }
        $this->left = 0;
        if ('' !== rtrim($held, "\r\n")) {
            yield rtrim($held, "\r\n");
        }
        if (null !== $this->input->fault) {
            $this->damaged($this->input->fault);
        }
    }

    /** Passes over the rest of the block and what parts it from the next record. */
    public function finish(): void
    {
        if ($this->finished) {
            return;
        }
        foreach ($this->block() as $ignored) {
        }
        $this->finished = true;
        if (!$this->lenient) {
            return;
        }
        $this->end = $this->reader->conclude($this);
    }

    /**
     * Bytes that the record takes in the file: its gzip member, else up to and with the empty lines behind it. Known when
     * it has been finished.
     */
    public function length(): int
    {
        return $this->end - $this->offset;
    }

    /**
     * What is wrong with it; complete when it has been finished.
     *
     * @return list<WarcFinding>
     */
    public function findings(): array
    {
        return $this->findings;
    }

    /** Why the block ended before its time; null if it did not. */
    public function damage(): ?WarcError
    {
        return $this->damage;
    }

    /** @internal */
    public function note(WarcFindingCode $code, string $what): void
    {
        $this->findings[] = WarcFinding::at($code, $this->offset, $what);
    }

    private function endsEarly(): void
    {
        $left = $this->left;
        $this->left = 0;
        $this->damaged(
            $this->input->fault
                ?? new WarcError(
                    WarcFindingCode::Truncated, $this->offset, \sprintf('The file ends %d bytes before the record does', $left),
                ),
        );
    }

    private function damaged(WarcError $damage): void
    {
        $this->damage = $damage;
        if (!$this->lenient) {
            throw $damage;
        }
    }
}
