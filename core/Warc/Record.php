<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/**
 * A record as it is read: its header is there, its block passes by once.
 */
final class Record
{
    private const STEP = 65_536;

    private int $left;
    private ?WarcError $damage = null;

    /**
     * @internal records come from a {@see Reader}
     */
    public function __construct(
        private readonly Input $input,
        /** Where the record, or its gzip member, begins in the file. */
        public readonly int $offset,
        public readonly RecordHeader $header,
        private readonly bool $lenient = false,
    ) {
        $this->left = $header->contentLength();
    }

    /**
     * The block, in pieces of at most 64 KiB. What is not read is passed over when the next record is asked for.
     *
     * @return \Generator<int, string>
     *
     * @throws WarcError where the file ends or is damaged before the block does; while a file is read from record to record,
     *                   the block only ends there, and the reader notes why
     */
    public function block(): \Generator
    {
        while ($this->left > 0) {
            try {
                $piece = $this->input->read(min($this->left, self::STEP));
                if ('' === $piece) {
                    throw new WarcError(FindingCode::Truncated, $this->offset, \sprintf('The file ends %d bytes before the record does', $this->left));
                }
            } catch (WarcError $e) {
                if (!$this->lenient) {
                    throw $e;
                }
                $this->damage = $e;
                $this->left = 0;

                return;
            }
            $this->left -= \strlen($piece);
            yield $piece;
        }
    }

    /**
     * Passes over the rest of the block.
     *
     * @throws WarcError if the record could not be read to its end
     */
    public function finish(): void
    {
        foreach ($this->block() as $ignored) {
        }
        if (null !== $this->damage) {
            throw $this->damage;
        }
    }
}
