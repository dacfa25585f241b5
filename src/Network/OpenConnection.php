<?php

declare(strict_types=1);

namespace Ypomna\App\Network;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Fetch\Exchange;

/**
 * What a connection is at.
 *
 * @template T
 *
 * @internal
 */
final class OpenConnection
{
    /** @var array{Url, T}|null */
    public ?array $current = null;
    public ?Exchange $exchange = null;
}
