<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/** How the digests that a record gives stand to its bytes. */
enum DigestVerdict: string
{
    case Ok = 'ok';
    case Mismatch = 'mismatch';
    case Absent = 'absent';
    case Unsupported = 'unsupported';
}
