<?php

declare(strict_types=1);

namespace Ypomna\Core\Http;

/** How the length of a message body is told: RFC 9112 section 6.3. */
enum Framing
{
    case None;
    case Length;
    case Chunked;
    case UntilClose;
}
