<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/** A WARC file cannot be read any further at a place; the place is part of the message. */
final class WarcError extends \RuntimeException
{
    /** @param string $what without its place */
    public function __construct(public readonly WarcFindingCode $finding, public readonly int $offset, public readonly string $what)
    {
        parent::__construct(\sprintf('%s (at byte %d).', rtrim($what, '.'), $offset));
    }
}
