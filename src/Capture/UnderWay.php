<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Fetch\Exchange;

/**
 * What one connection is busy with.
 *
 * @internal
 */
final class UnderWay
{
    public ?Exchange $exchange = null;
    /** @var array{Url, int, int}|null address, redirects so far, depth of frames */
    public ?array $current = null;
}
