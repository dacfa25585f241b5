<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/** One thing that is wrong, and where: the offset of the record, or of the gzip member that it stands in. */
final readonly class Finding
{
    public function __construct(public FindingCode $code, public int $offset, public string $message)
    {
    }
}
