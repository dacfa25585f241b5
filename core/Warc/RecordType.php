<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/** The record types of ISO 28500:2017, clause 6. */
enum RecordType: string
{
    case Warcinfo = 'warcinfo';
    case Request = 'request';
    case Response = 'response';
    case Resource = 'resource';
    case Metadata = 'metadata';
    case Revisit = 'revisit';
    case Conversion = 'conversion';
    case Continuation = 'continuation';
}
