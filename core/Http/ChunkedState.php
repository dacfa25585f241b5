<?php

declare(strict_types=1);

namespace Ypomna\Core\Http;

/**
 * Where a {@see ChunkedDecoder} stands.
 *
 * @internal
 */
enum ChunkedState
{
    case Size;
    case Data;
    case DataEnd;
    case Trailer;
    case Done;
}
