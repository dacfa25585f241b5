<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/** Why a request was not answered, or not to its end. */
enum FailureReason: string
{
    /** The name server says that the name does not exist, or has no address. */
    case NoHost = 'no-host';
    /** No trustworthy answer about the name. */
    case Dns = 'dns';
    /** An address that may not be reached. */
    case Guarded = 'guarded';
    case Refused = 'refused';
    case Timeout = 'timeout';
    case Tls = 'tls';
    /** The connection broke, or what came is no HTTP. */
    case BadResponse = 'bad-response';
    /** A limit of the capture was reached. */
    case Limit = 'limit';
    /** A stream that cannot be kept as request and answer. */
    case NotRecordable = 'not-recordable';
    /** The site does not want programs to ask for it (RFC 9309). */
    case Robots = 'robots';
    /** The page gave the request up itself. */
    case Cancelled = 'cancelled';
}
