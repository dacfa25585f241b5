<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/** One thing that is wrong, and where: the offset of the record, of the gzip member that it stands in, or of the garbage. */
final readonly class WarcFinding
{
    public function __construct(public WarcFindingCode $code, public int $offset, public string $message)
    {
    }

    /** @param string $what without a full stop; the place is added */
    public static function at(WarcFindingCode $code, int $offset, string $what): self
    {
        return new self($code, $offset, \sprintf('%s (at byte %d).', rtrim($what, '.'), $offset));
    }
}
