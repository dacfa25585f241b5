<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

enum DnsStatus: string
{
    case Answered = 'answered';
    /** The name does not exist, or exists without an address. */
    case NoAddress = 'no-address';
    /** Nobody answered, or not so that it can be trusted. */
    case Failed = 'failed';
}
