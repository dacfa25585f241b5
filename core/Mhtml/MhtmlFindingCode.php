<?php

declare(strict_types=1);

namespace Ypomna\Core\Mhtml;

/** What can be wrong with an MHTML file. */
enum MhtmlFindingCode: string
{
    case NotMhtml = 'not-mhtml';
    case NoBoundary = 'no-boundary';
    case UnclosedBoundary = 'unclosed-boundary';
    case NoRoot = 'no-root';
    case BadEncoding = 'bad-encoding';
    /** A reference of a page's document that no part answers. */
    case Unresolved = 'unresolved';

    /** Whether a file with it is valid all the same. */
    public function isWarning(): bool
    {
        return self::Unresolved === $this;
    }
}
