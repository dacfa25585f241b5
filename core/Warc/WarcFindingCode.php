<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/** What can be wrong with a WARC file. */
enum WarcFindingCode: string
{
    case NotWarc = 'not-warc';
    case BadVersion = 'bad-version';
    case BadHeader = 'bad-header';
    case MissingField = 'missing-field';
    case BadLength = 'bad-length';
    case MissingSeparator = 'missing-separator';
    case Truncated = 'truncated';
    case BadGzip = 'bad-gzip';
    case WholeFileGzip = 'whole-file-gzip';
    case Garbage = 'garbage';
    case DigestMismatch = 'digest-mismatch';
    case BadDate = 'bad-date';
    case BadHttp = 'bad-http';

    /** Whether a file with it is valid all the same. */
    public function isWarning(): bool
    {
        return \in_array($this, [self::WholeFileGzip, self::MissingSeparator, self::BadDate, self::BadHttp], true);
    }

    /** Whether the record's bytes are not all there, or not where they should be. */
    public function isDamage(): bool
    {
        return \in_array($this, [self::BadLength, self::Truncated, self::BadGzip, self::Garbage, self::NotWarc], true);
    }
}
